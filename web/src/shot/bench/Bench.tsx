import { IconButton, ListItemIcon, Menu, MenuItem, Tooltip } from "@mui/material";
import { useState } from "react";
import { useVocabulary, type ValueInfo } from "../../api/queries";
import { Icon } from "../../parts/Icon";
import { useAt, useSession } from "../document/context";
import { isBodied, useListed, type Listed } from "../things";
import { useAdding } from "../useAdding";
import { useRemoving } from "../useRemoving";
import { point, samePointed, useView } from "../view";
import { Groups } from "./Groups";
import { ShotFormat } from "./ShotFormat";
import { AddThings } from "../artwork/AddThings";
import { Curves } from "./Curves";
import { CameraFileRow } from "./CameraFileRow";
import { DrawLineRow } from "./DrawLineRow";
import { LookRow } from "./LookRow";
import { MarkTools } from "./MarkTools";
import { CutRow, PictureRow } from "./SheetTools";
import { BringPictureRow } from "./BringPictureRow";
import { KerningRow } from "./KerningRow";
import { Markers } from "./Markers";
import { Motions } from "./Motions";
import { GradeTools } from "./GradeTools";
import { PictureLooks } from "./PictureLooks";
import { PlateTools } from "./plate/PlateTools";
import { ReachRows } from "./ReachRows";
import { SoundTools } from "./SoundTools";
import { SingleOut } from "./SingleOut";
import { TableRow } from "./TableRow";
import { TypefaceRow } from "./TypefaceRow";
import { Words } from "./Words";
import { CameraTools } from "./CameraTools";
import "./bench.css";

/** What a click on a part of a letter means: the group whose controls shape it. */
const LIT: Record<string, string> = {
  face: "finish",
  bevel: "body/front edge",
  wall: "body",
  back: "body/back edge",
};

/** Shows what was pointed at, in the order of work. */
export function Bench() {
  const pointed = useView((s) => s.pointed);
  const vocabulary = useVocabulary();
  const things = useListed();
  const now = things.find((thing) => samePointed(thing.pointed, pointed));
  return (
    <aside className="bench" aria-label="Bench">
      <Chooser things={things} now={now} />
      <div className="bench-values">
        {!vocabulary ? null : now ? (
          <ThingBench key={now.key} thing={now} infos={vocabulary.values[now.kind] ?? []} />
        ) : (
          <>
            <ShotFormat />
            <Markers />
          </>
        )}
      </div>
    </aside>
  );
}

function Chooser({ things, now }: { things: Listed[]; now: Listed | undefined }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = (then: () => void) => () => {
    setAnchor(null);
    then();
  };
  const [adding, setAdding] = useState<HTMLElement | null>(null);
  const making = useAdding();
  const removing = useRemoving();
  const id = now && typeof now.pointed === "object" ? now.pointed.thing : null;
  return (
    <div className="chooser">
      <button
        className="chooser-now"
        aria-haspopup="menu"
        aria-label={`Pointed at: ${now?.name ?? "Shot"}`}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <Icon name={now?.icon ?? "film"} />
        <span>{now?.name ?? "Shot"}</span>
        <Icon name="down" size={14} />
      </button>
      {id && isBodied(now?.kind) && <ExportBody title={id} />}
      {id && (
        <>
          <Tooltip title="Duplicate with its keys">
            <IconButton aria-label="Duplicate" onClick={() => void making.copy(id)}>
              <Icon name="copy" size={16} />
            </IconButton>
          </Tooltip>
          {now?.kind === "light" && (
            <Tooltip title="Duplicate mirrored, on the other side">
              <IconButton aria-label="Duplicate mirrored" onClick={() => void making.copy(id, true)}>
                <Icon name="mirror" size={16} />
              </IconButton>
            </Tooltip>
          )}
          <Tooltip title="Delete (Ctrl Z brings it back)">
            <IconButton aria-label="Delete" onClick={() => void removing.thing(id)}>
              <Icon name="trash" size={16} />
            </IconButton>
          </Tooltip>
        </>
      )}
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
        <MenuItem onClick={close(() => point("shot"))} selected={!now}>
          <ListItemIcon>
            <Icon name="film" size={16} />
          </ListItemIcon>
          Shot
        </MenuItem>
        {things.map((thing) => (
          <MenuItem key={thing.key} selected={thing === now} onClick={close(() => point(thing.pointed))}>
            <ListItemIcon>
              <Icon name={thing.icon} size={16} />
            </ListItemIcon>
            {thing.name}
          </MenuItem>
        ))}
        <MenuItem divider sx={{ minHeight: 0, p: 0 }} disabled />
        <MenuItem onClick={close(() => setAdding(anchor))}>
          <ListItemIcon>
            <Icon name="plus" size={16} />
          </ListItemIcon>
          Add a title, mark, sheet, mesh, light …
        </MenuItem>
      </Menu>
      <AddThings anchor={adding} onClose={() => setAdding(null)} />
    </div>
  );
}

const FILES: [kind: string, says: string][] = [
  ["glb", "GLB: parts with finish, normals and UVs"],
  ["obj", "OBJ: parts with normals and UVs"],
  ["stl", "STL: one closed shell"],
  ["svg", "SVG: the outlines, curves as curves"],
];

/** The body at this frame as a file for other programs. */
function ExportBody({ title }: { title: string }) {
  const session = useSession();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Tooltip title="Export the body">
        <IconButton
          aria-label="Export the body"
          aria-haspopup="menu"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <Icon name="file" size={16} />
        </IconButton>
      </Tooltip>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
        {FILES.map(([kind, says]) => (
          <MenuItem
            key={kind}
            onClick={() => {
              setAnchor(null);
              void session
                .settled()
                .then(() =>
                  location.assign(
                    `/api/shots/${session.id}/things/${title}/body?kind=${kind}&frame=${useView.getState().frame}`,
                  ),
                );
            }}
          >
            {says}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** What belongs to a light, the surroundings or the backdrop as a whole. */
function WholeRows({ thing }: { thing: Listed }) {
  if (thing.kind === "light") return <ReachRows at={thing.at} />;
  if (thing.kind === "surroundings")
    return (
      <BringPictureRow
        at={`${thing.at}/picture`}
        when={{ at: `${thing.at}/source`, is: "picture" }}
        kind="panorama"
      />
    );
  if (thing.kind === "backdrop")
    return <BringPictureRow at={`${thing.at}/picture`} when={{ at: `${thing.at}/kind`, is: "picture" }} />;
  return null;
}

/** Values shown by something better than a line of text. */
const WITHOUT = [
  "/setting/typeface",
  "/cut",
  "/fill/picture",
  "/picture",
  "/listed",
  "/clip",
  "/solve",
  "/table/file",
];

function ThingBench({ thing, infos }: { thing: Listed; infos: ValueInfo[] }) {
  const session = useSession();
  const pointed = useView((s) => s.pointed);
  const cameras = useListed().filter(({ kind }) => kind === "camera").length;
  const named =
    typeof thing.pointed === "object" || thing.kind === "sound" || (thing.kind === "camera" && cameras > 1);
  const lit = typeof pointed === "object" && pointed.part ? LIT[pointed.part] : undefined;
  const words = String(useAt(`${thing.at}/words`) ?? "");
  return (
    <>
      {named && (
        <section className="group">
          <label className="row">
            <span className="number-label">name</span>
            <input
              key={thing.name}
              className="plain-input"
              aria-label="Name"
              defaultValue={thing.name}
              maxLength={120}
              onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
              onBlur={(e) => {
                const name = e.target.value.trim();
                if (name && name !== thing.name)
                  session.edit([{ op: "replace", path: `${thing.at}/name`, value: name }]);
                else e.target.value = thing.name;
              }}
            />
          </label>
          {thing.kind === "title" && (
            <>
              <Words at={thing.at} words={words} />
              <LookRow at={thing.at} />
            </>
          )}
        </section>
      )}
      {thing.kind === "camera" && <CameraTools thing={thing} />}
      {thing.kind === "optics" && <PictureLooks />}
      {thing.kind === "plate" && <PlateTools />}
      {thing.kind === "mark" && <MarkTools at={thing.at} thing={thing.key} />}
      <Groups
        infos={infos}
        base={thing.at}
        lit={lit}
        folding={isBodied(thing.kind) || thing.kind === "optics" || thing.kind === "plate"}
        without={WITHOUT}
        before={{
          setting: <TypefaceRow at={`${thing.at}/setting/typeface`} words={words} />,
          "": thing.kind === "sheet" && <CutRow at={thing.at} />,
        }}
        after={{
          "": (
            <>
              {thing.at === "/camera" && <CameraFileRow />}
              <WholeRows thing={thing} />
              <DrawLineRow at={thing.at} chosenBy="rule" thing={thing.key} />
            </>
          ),
          setting: <KerningRow at={thing.at} />,
          place: thing.kind === "title" && <SingleOut at={thing.at} />,
          fill: <PictureRow at={thing.at} />,
          grade: <GradeTools />,
          curves: thing.kind === "optics" && <Curves at={`${thing.at}/curves`} />,
          table: thing.kind === "optics" && <TableRow at={`${thing.at}/table`} />,
          "line of the words": <DrawLineRow at={`${thing.at}/path`} chosenBy="kind" thing={thing.key} />,
        }}
      />
      <Motions thing={thing} />
      {thing.kind === "sound" && <SoundTools id={thing.key} />}
    </>
  );
}
