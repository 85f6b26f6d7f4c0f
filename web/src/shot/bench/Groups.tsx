import { useEffect, useRef, useState, type ReactNode } from "react";
import { applies } from "./applies";
import type { ValueInfo } from "../../api/queries";
import { Icon } from "../../parts/Icon";
import { useShotState } from "../document/context";
import { valueAt } from "../document/pointer";
import { BringPictureRow } from "./BringPictureRow";
import { FinishRows } from "./FinishRows";
import { ItemList } from "./ItemList";
import { ProfileRow } from "./ProfileRow";
import { RigRow } from "./RigRow";
import { RoomRow } from "./RoomRow";
import { SpanRow } from "./SpanRow";
import { PatchRow } from "./PatchRow";
import { ThingRow } from "./ThingRow";
import { UnitRow } from "./UnitRow";
import { ChoiceRow, ColourRow, NumberRow, SwitchRow, TextRow, TripleRow } from "./Rows";

interface Props {
  infos: ValueInfo[];
  base: string;
  /** Group whose controls what was clicked belongs to. */
  lit?: string;
  /** Put above the values of a group. */
  before?: Record<string, ReactNode>;
  /** Put below the values of a group. */
  after?: Record<string, ReactNode>;
  /** Values shown by something better. */
  without?: string[];
  /** Whether groups can be folded. */
  folding?: boolean;
}

/** Groups that most titles do without start folded. */
const RARE = [
  ...[
    "bending",
    "blur",
    "distortion",
    "aberration",
    "diffusion",
    "bloom",
    "streak",
    "glints",
    "rays",
    "flare",
    "veil",
    "vignette",
  ],
  ...["halation", "grain", "grade", "letterbox"],
  "words over time",
  "reveal",
  "copies",
  "span",
  "picture",
  "wire",
  "ranges",
  "line of the words",
  "outline",
  "shells",
  "deformation",
  "sets",
];

const isRare = (group: string) => RARE.includes(group) || group.startsWith("area of ");

/** Values of a thing by groups, in the order of work. */
export function Groups({ infos, base, lit, before = {}, after = {}, without = [], folding = false }: Props) {
  // Nothing is shown, so nothing can be set, of what means nothing as things stand.
  const meant = useShotState((s) =>
    infos
      .filter((info) => !without.includes(info.pointer) && applies(s.shot, base, info))
      .map((info) => info.pointer)
      .join(),
  );
  const shown = new Set(meant.split(","));
  const groups = [
    ...Map.groupBy(
      infos.filter((info) => shown.has(info.pointer)),
      (info) => info.group,
    ),
  ];
  return groups.map(([group, listed]) => (
    <Group
      key={group}
      name={group}
      title={titleOf(group)}
      lit={lit !== undefined && group === lit}
      rare={isRare(group.split("/").at(-1)!)}
      folding={folding}
      infos={listed}
      base={base}
    >
      {before[group]}
      {group.split("/").at(-1) === "finish" ? (
        <FinishRows infos={listed} at={base + listed[0]!.pointer.replace(/\/\w+$/, "")} />
      ) : isTriple(listed) ? (
        <TripleRow infos={listed} base={base} name={group.split("/").at(-1)!} label={group} />
      ) : (
        listed.map((info) => <ValueRow key={info.pointer} info={info} at={base + info.pointer} />)
      )}
      {after[group]}
    </Group>
  ));
}

/** What a group is called; what belongs to the wire says so. */
const titleOf = (group: string) =>
  group.split("/").at(-1)! + (group.startsWith("wire/") ? " of the wire" : "");

const isTriple = (infos: ValueInfo[]) =>
  infos.length === 3 &&
  infos.every((info) => info.kind === "number") &&
  /\/(position|aim|rotation|move|turn|scatter|spin)\//.test(infos[0]!.pointer);

export function ValueRow({ info, at }: { info: ValueInfo; at: string }) {
  const shown = useShotState((s) => applies(s.shot, at.slice(0, at.length - info.pointer.length), info));
  if (!shown) return null;
  if (info.pointer === "/rig") return <RigRow info={info} at={at} />;
  if (info.pointer === "/span/start" || info.pointer === "/span/end") return <SpanRow info={info} at={at} />;
  if (info.pointer === "/measured_in") return <UnitRow info={info} at={at} />;
  if (info.kind === "number") return <NumberRow info={info} at={at} />;
  if (info.kind === "colour") return <ColourRow info={info} at={at} />;
  if (info.kind === "choice" && info.pointer.endsWith("/profile")) return <ProfileRow info={info} at={at} />;
  if (info.pointer === "/studio") return <RoomRow info={info} at={at} />;
  if (info.kind === "choice") return <ChoiceRow info={info} at={at} />;
  if (info.kind === "switch") return <SwitchRow info={info} at={at} />;
  if (info.kind === "text" && /\/(file|slide|video)$/.test(info.pointer))
    return <FileRow info={info} at={at} />;
  if (info.thing === "patch") return <PatchRow info={info} at={at} />;
  if (info.thing) return <ThingRow info={info} at={at} />;
  if (info.kind === "text") return <TextRow info={info} at={at} />;
  if (info.kind === "list") return <ItemList info={info} at={at} />;
  return null;
}

/** A file: a video where one is asked for, else a picture. */
function FileRow({ info, at }: { info: ValueInfo; at: string }) {
  const fill = useShotState((s) => valueAt(s.shot, at.replace(/\/\w+$/, "/fill")));
  const video = info.pointer.endsWith("/video") || fill === "video";
  return (
    <BringPictureRow
      at={at}
      label={info.label === "file" ? undefined : info.label}
      kind={video ? "video" : "picture"}
    />
  );
}

interface GroupProps {
  name: string;
  title: string;
  lit: boolean;
  rare: boolean;
  folding: boolean;
  infos: ValueInfo[];
  base: string;
  children: ReactNode;
}

const folded = new Map<string, boolean>();

function Group({ name, title, lit, rare, folding, infos, base, children }: GroupProps) {
  const section = useRef<HTMLElement>(null);
  const plain = title === "" || /^(position|rotation|aim|move|turn|scatter|scatter turn)$/.test(title);
  const used = useShotState(
    (s) => rare && infos.some((info) => differs(valueAt(s.shot, base + info.pointer), info)),
  );
  const [open, setOpen] = useState(() => folded.get(name) ?? (!rare || used));
  const shown = !folding || plain || open || lit;
  useEffect(() => {
    if (lit) section.current?.scrollIntoView({ block: "nearest", behavior: "smooth" });
  }, [lit]);
  function toggle() {
    folded.set(name, !shown);
    setOpen(!shown);
  }
  return (
    <section ref={section} className={`group${lit ? " lit" : ""}`} aria-label={title || undefined}>
      {!plain &&
        (folding ? (
          <h3>
            <button className="group-fold" aria-expanded={shown} onClick={toggle}>
              <Icon name={shown ? "down" : "right"} size={12} />
              {title}
              {used && !shown && <i className="fold-used" />}
            </button>
          </h3>
        ) : (
          <h3>{title}</h3>
        ))}
      {shown && children}
    </section>
  );
}

function differs(value: unknown, info: ValueInfo): boolean {
  if (value === undefined) return false;
  return JSON.stringify(value) !== JSON.stringify(info.default);
}
