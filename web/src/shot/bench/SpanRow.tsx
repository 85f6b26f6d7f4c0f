import type { ValueInfo } from "../../api/queries";
import { NumberField } from "../../parts/number/NumberField";
import { useAt } from "../document/context";
import { useSpans } from "../time/useSpans";

/** An end of a thing's span: keys that belong to it go along. */
export function SpanRow({ info, at }: { info: ValueInfo; at: string }) {
  const { put } = useSpans();
  const thing = at.split("/")[2]!;
  const start = Number(useAt(`/things/${thing}/span/start`) ?? 0);
  const end = Number(useAt(`/things/${thing}/span/end`) ?? 0);
  const first = info.pointer.endsWith("/start");
  return (
    <div className="row">
      <NumberField
        label={info.label}
        value={first ? start : end}
        unit={info.unit}
        step={info.step}
        low={first ? 0 : start + 1}
        high={first ? end - 1 : info.high}
        tells={info.tells}
        onChange={(value) =>
          void put(thing, first ? Math.round(value) : start, first ? end : Math.round(value), false)
        }
      />
      <span className="reset-gap" />
    </div>
  );
}
