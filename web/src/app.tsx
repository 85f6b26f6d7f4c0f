import { lazy, Suspense, useMemo } from "react";
import { Link, Route, Switch, useLocation } from "wouter";
import { useNews } from "./api/queries";
import { Deliveries } from "./deliveries/Deliveries";
import { useCommands, type Command } from "./parts/commands/commands";
import { Palette } from "./parts/commands/Palette";
import { Notices } from "./parts/notices";
import { Top } from "./parts/Top";
import { ProductionPage } from "./productions/ProductionPage";
import { Productions } from "./productions/Productions";

const shotScreen = () => import("./shot/ShotScreen");
const ShotScreen = lazy(shotScreen);
const SequenceScreen = lazy(() => import("./sequence/SequenceScreen"));
// On its way before anything is drawn.
if (location.pathname.startsWith("/shots/")) void shotScreen();

export function App() {
  useNews();
  const [, go] = useLocation();
  const commands = useMemo<Command[]>(
    () => [
      {
        id: "go-productions",
        label: "Go to productions",
        group: "Everywhere",
        keys: ["Alt+1"],
        run: () => go("/"),
      },
      {
        id: "go-deliveries",
        label: "Go to deliveries",
        group: "Everywhere",
        keys: ["Alt+2"],
        run: () => go("/deliveries"),
      },
    ],
    [go],
  );
  useCommands(commands);
  return (
    <>
      <Suspense fallback={<div className="page" />}>
        <Switch>
          <Route path="/" component={Productions} />
          <Route path="/productions/:id">{({ id }) => <ProductionPage id={id} />}</Route>
          <Route path="/shots/:id">{({ id }) => <ShotScreen key={id} id={id} />}</Route>
          <Route path="/sequences/:id">{({ id }) => <SequenceScreen key={id} id={id} />}</Route>
          <Route path="/deliveries" component={Deliveries} />
          <Route>
            <div className="page">
              <Top />
              <main className="sheet">
                <div className="empty">
                  <h1>There is nothing at this address</h1>
                  <Link href="/">Go to your productions</Link>
                </div>
              </main>
            </div>
          </Route>
        </Switch>
      </Suspense>
      <Palette />
      <Notices />
    </>
  );
}
