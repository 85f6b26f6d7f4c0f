import { useAt, useSession } from "../document/context";
import { isBodied, useListed } from "../things";

/** Which things a light falls on, or leaves out. */
export function ReachRows({ at }: { at: string }) {
  const session = useSession();
  const reaches = String(useAt(`${at}/reaches`) ?? "everything");
  const listed = String(useAt(`${at}/listed`) ?? "")
    .split(" ")
    .filter(Boolean);
  const things = useListed().filter((thing) => isBodied(thing.kind));
  if (reaches === "everything") return null;
  const put = (id: string, on: boolean) =>
    session.edit([
      {
        op: "replace",
        path: `${at}/listed`,
        value: (on ? [...listed, id] : listed.filter((one) => one !== id)).join(" "),
      },
    ]);
  return (
    <div
      className="reach-list"
      role="group"
      aria-label={reaches === "only these" ? "Things it reaches" : "Things it leaves out"}
    >
      {things.map((thing) => (
        <label key={thing.key}>
          <input
            type="checkbox"
            checked={listed.includes(thing.key)}
            onChange={(e) => put(thing.key, e.target.checked)}
          />
          {thing.name}
        </label>
      ))}
    </div>
  );
}
