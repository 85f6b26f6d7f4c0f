import { api, got } from "../../api/client";
import type { ValueInfo } from "../../api/queries";
import { useSession } from "../document/context";
import { ChoiceRow } from "./Rows";

type Unit = "stops" | "candela" | "lumen" | "lux";

/**
 * What a light is measured in: the core says what the same light is in the other unit, so that choosing one
 * changes nothing else.
 */
export function UnitRow({ info, at }: { info: ValueInfo; at: string }) {
  const session = useSession();
  const light = at.split("/")[2]!;
  const measure = (unit: string) =>
    session.offered(() =>
      got(
        api.POST("/api/shots/{shot}/lights/{light}/unit", {
          params: { path: { shot: session.id, light } },
          body: { unit: unit as Unit },
        }),
      ),
    );
  return <ChoiceRow info={info} at={at} put={(unit) => void measure(unit)} />;
}
