import { Button, IconButton, Tooltip } from "@mui/material";
import { useVocabulary, type ValueInfo } from "../../api/queries";
import { Icon } from "../../parts/Icon";
import { useSession, useShotState } from "../document/context";
import { valueAt } from "../document/pointer";
import { insertItem } from "../document/values";
import { FinishRows } from "./FinishRows";
import { CarryRow } from "./plate/CarryRow";
import { WordsOnRow } from "./WordsOnRow";
import { useRemoving } from "../useRemoving";
import { look } from "../view";
import { BringPictureRow } from "./BringPictureRow";
import { Groups } from "./Groups";

interface Item {
  kind?: string;
  start?: number;
  end?: number;
}

const NAMES: Record<string, string> = {
  finish: "Finish",
  range: "Range",
  shell: "Shell",
  deformation: "Deformation",
  set: "Set",
  stop: "Stop",
  patch: "Patch",
  cover: "Cover",
};

/** Several parts of one kind: shells, deformations, ranges; each can be added, moved up and removed. */
export function ItemList({ info, at }: { info: ValueInfo; at: string }) {
  const session = useSession();
  const removing = useRemoving();
  const vocabulary = useVocabulary();
  const count = useShotState((s) => (valueAt(s.shot, at) as unknown[] | undefined)?.length ?? 0);
  const infos = vocabulary?.values[info.item!] ?? [];
  const name = NAMES[info.item!] ?? info.item!;
  return (
    <div className="items">
      {Array.from({ length: count }, (_, i) => (
        <div key={i} className="item" role="group" aria-label={`${name} ${i + 1}`}>
          <div className="item-head">
            <ItemTitle name={name} number={i} at={`${at}/${i}`} />
            <Tooltip title="Remove (Ctrl Z brings it back)">
              <IconButton
                aria-label={`Remove ${name.toLowerCase()} ${i + 1}`}
                onClick={() => void removing.item(at, i)}
              >
                <Icon name="trash" size={14} />
              </IconButton>
            </Tooltip>
          </div>
          {info.item === "patch" && <WordsOnRow index={i} />}
          {info.item === "cover" && <CarryRow index={i} />}
          {info.item === "patch" && (
            <BringPictureRow at={`${at}/${i}/picture`} when={{ at: `${at}/${i}/shows`, is: "a picture" }} />
          )}
          {info.item === "finish" ? (
            <FinishRows infos={infos} at={`${at}/${i}`} />
          ) : (
            <Groups infos={infos} base={`${at}/${i}`} without={hidden(info.item!)} />
          )}
        </div>
      ))}
      {(info.item === "patch" || info.item === "cover") && (
        <Tooltip title={DRAWN[info.item]} placement="left">
          <Button
            size="small"
            startIcon={<Icon name="plus" size={14} />}
            onClick={() => look({ picking: info.item as "patch" | "cover", playing: false, traced: false })}
          >
            {info.item === "patch" ? "Follow a flat area" : "Draw a cover"}
          </Button>
        </Tooltip>
      )}
      {!["range", "patch", "cover"].includes(info.item!) && count < (info.most ?? 8) && (
        <Button
          size="small"
          startIcon={<Icon name="plus" size={14} />}
          onClick={() => session.edit(insertItem(at, structuredClone(vocabulary?.fresh[info.item!])))}
        >
          Add a {name.toLowerCase()}
        </Button>
      )}
      {info.item === "range" && count === 0 && (
        <p className="hint">Select characters in the words above, then press “Set differently”.</p>
      )}
    </div>
  );
}

const DRAWN = {
  patch: "Pick the corners of something flat in the plate: a sign, a wall, a side of a box",
  cover: "Pick the corners of what stands before the words; on a patch, it is carried by that",
};

/** What is asked for elsewhere, or told by what was picked. */
function hidden(item: string): string[] {
  if (item === "patch") return ["/track", "/picture"];
  return item === "range" ? ["/typeface"] : [];
}

function ItemTitle({ name, number, at }: { name: string; number: number; at: string }) {
  const title = useShotState((s) => {
    const item = valueAt(s.shot, at) as Item | undefined;
    const words = String(
      (valueAt(s.shot, at.replace(/\/ranges\/\d+$/, "/words")) as string | undefined) ?? "",
    );
    if (name === "Range" && item) return `“${[...words].slice(item.start, item.end).join("").slice(0, 24)}”`;
    return `${name} ${number + 1}`;
  });
  return <span>{title}</span>;
}
