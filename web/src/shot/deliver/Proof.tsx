import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, got } from "../../api/client";
import { sayFault } from "../../parts/notices";
import { Findings, PicturesToo, ReportLinks } from "../../parts/order/OrderParts";
import { useSession, useShot, useShotState } from "../document/context";
import { listed } from "../things";
import { look } from "../view";

/**
 * What is to be looked at in a shot before it is ordered: at once what its values tell, then what its
 * pictures do.
 */
export function Proof({ first, last, onGo }: { first: number; last: number; onGo: () => void }) {
  const session = useSession();
  const shot = useShot();
  const revision = useShotState((s) => s.revision);
  const [wanted, setWanted] = useState<string | null>(null);
  const of = `${revision} ${first} ${last}`;
  const pictures = wanted === of;
  const { data, isFetching, error } = useQuery({
    queryKey: ["proof", session.id, of, pictures],
    queryFn: async () => {
      await session.settled();
      return got(
        api.POST("/api/shots/{shot}/proof", {
          params: { path: { shot: session.id } },
          body: { first, last, pictures },
        }),
      );
    },
    // What it needs may have come or gone meanwhile; pictures take too long to be looked at again unasked.
    staleTime: pictures ? Infinity : 0,
    retry: false,
    placeholderData: (before) => before,
  });
  if (error) sayFault(error);
  const names = new Map(listed(shot).map(({ key, name }) => [key, name]));
  return (
    <div className="order-proof">
      {data ? (
        <Findings
          found={data.map((one) => ({ ...one, where: one.thing ? (names.get(one.thing) ?? one.thing) : "" }))}
          onGo={(index) => {
            look({ frame: data[index]!.frame, playing: false });
            onGo();
          }}
        />
      ) : (
        <p className="muted">{error ? "It could not be checked." : "Checking …"}</p>
      )}
      <ReportLinks at={`/api/shots/${session.id}/proof/report`} />
      <PicturesToo looked={pictures} busy={isFetching && pictures} onLook={() => setWanted(of)} />
    </div>
  );
}
