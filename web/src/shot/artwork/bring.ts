import { api, bringFile, got, named, sendFile, type Schemas } from "../../api/client";
import { withShare } from "../../api/live";
import { quiet, say, sayShare } from "../../parts/notices";
import type { Session } from "../document/session";
import { freeName } from "../document/values";
import { look, point, pointLater } from "../view";

type MarkFile = Schemas["MarkFile"];
type MeshFile = Schemas["MeshFile"];
export type PictureFile = Schemas["Picture"];

/** What kinds of files become things, and how they are told apart. */
export const SOUNDS = [".wav", ".flac", ".mp3", ".m4a", ".aac", ".ogg", ".opus"];
export const VIDEOS = [".mp4", ".mov", ".m4v", ".mkv", ".webm", ".avi", ".mxf", ".mts"];
export const SUBTITLES = [".srt", ".vtt"];
export const ACCEPTED = `.srt,.vtt,.svg,.png,.jpg,.jpeg,.webp,.obj,.zip,.glb,.ply,.stl,${SOUNDS.join()},${VIDEOS.join()}`;

const stem = (file: File) => file.name.replace(/\.\w+$/, "").slice(0, 60) || "Mark";

/** Bring a file into the shot: a drawing becomes a mark, a picture is traced, a 3D object becomes a mesh. */
export async function bringThing(session: Session, file: File): Promise<void> {
  const ending = (/\.(\w+)$/.exec(file.name)?.[1] ?? "").toLowerCase();
  if (SOUNDS.includes(`.${ending}`)) await bringSound(session, file);
  else if (VIDEOS.includes(`.${ending}`)) await bringPlate(session, file);
  else if (SUBTITLES.includes(`.${ending}`)) await bringSubtitles(session, file);
  else if (ending === "svg") await bringDrawing(session, file);
  else if (["png", "jpg", "jpeg", "webp"].includes(ending))
    look({
      surface: { kind: "trace", picture: await bringPicture(file), name: stem(file), brought: file },
    });
  else await bringMesh(session, file, ending);
}

export const bringPicture = async (file: File) =>
  named((await bringFile("/api/library/pictures", file)) as PictureFile, file);

export const bringVideo = async (file: File) =>
  named((await bringFile("/api/library/videos", file)) as Schemas["VideoFile"], file);

/** Footage that words are to stand in: the shot takes its size, rate and length. */
export async function bringPlate(session: Session, file: File): Promise<void> {
  const pointAt = pointLater();
  const found = await readPlate(file);
  const done = await session.offered(() =>
    got(
      api.POST("/api/shots/{shot}/plate", {
        params: { path: { shot: session.id } },
        body: { clip: found.file },
      }),
    ),
  );
  if (!done) return;
  pointAt("plate");
  const what = `${found.width}×${found.height}, ${found.rate.toFixed(3).replace(/\.?0+$/, "")} frames a second, ${found.frames} frames`;
  say(found.done.length ? `${what}. ${found.done.join("; ")}` : what);
}

/** Sent, then read frame by frame: how far it is, is said all the while. */
async function readPlate(file: File): Promise<Schemas["PlateFile"]> {
  try {
    const found = (await withShare(
      (share) => sayShare(`${file.name} is being read, frame by frame`, share),
      (knownAs) =>
        sendFile(`/api/library/plates?known_as=${knownAs}`, file, (share) =>
          sayShare(`${file.name} is on its way`, share),
        ),
    )) as Schemas["PlateFile"];
    return await named(found, file);
  } finally {
    quiet();
  }
}

/** A title whose words are those of subtitles when they are to be read. */
async function bringSubtitles(session: Session, file: File): Promise<void> {
  const done = await session.offered(() => bringFile(`/api/shots/${session.id}/subtitles`, file));
  if (done) say(`${file.name} is a title now whose words change as the subtitles do.`);
}

/** A sound that begins with the shot. */
async function bringSound(session: Session, file: File): Promise<void> {
  const pointAt = pointLater();
  const found = await named((await bringFile("/api/library/sounds", file)) as Schemas["SoundFile"], file);
  const sounds = session.store.getState().shot!.sounds ?? {};
  let id = "sound";
  for (let n = 2; sounds[id]; n++) id = `sound-${n}`;
  session.edit([
    { op: "add", path: `/sounds/${id}`, value: { name: stem(file) || "Sound", file: found.file } },
  ]);
  pointAt(`sound:${id}`);
  say(`${found.seconds.toFixed(2)} s of sound`);
}

export const bringPanorama = async (file: File) =>
  named((await bringFile("/api/library/panoramas", file)) as Schemas["PanoramaFile"], file);

async function bringDrawing(session: Session, file: File): Promise<void> {
  const found = (await bringFile("/api/library/drawings", file)) as MarkFile;
  addMark(session, stem(file), found.pieces, found.finishes);
  const what = `${found.pieces.length} ${found.pieces.length === 1 ? "piece" : "pieces"}, ${found.points} points`;
  say(found.left_out.length ? `${what}. Left out: ${found.left_out.join(", ")}` : what);
}

/** A mark of these pieces, above the title where there is one. */
export function addMark(
  session: Session,
  name: string,
  pieces: Schemas["Piece"][],
  finishes?: Schemas["Finish"][],
): string {
  const shot = session.store.getState().shot!;
  const id = freeName(shot, "mark");
  const place = {
    position: { x: 0, y: Object.values(shot.things ?? {}).some((t) => t.kind === "title") ? 0.7 : 0, z: 0 },
  };
  session.edit([
    {
      op: "add",
      path: `/things/${id}`,
      value: { kind: "mark", name, pieces, ...(finishes && { finishes }), place },
    },
  ]);
  point({ thing: id });
  return id;
}

async function bringMesh(session: Session, file: File, kind: string): Promise<void> {
  const pointAt = pointLater();
  const found = (await bringFile(`/api/library/meshes?kind=${encodeURIComponent(kind)}`, file)) as MeshFile;
  const shot = session.store.getState().shot!;
  const id = freeName(shot, "mesh");
  const longest = Math.max(...found.size);
  // Whatever the unit of the file: to begin with, about as large as a title.
  const value = {
    kind: "mesh",
    name: stem(file),
    file: found.file,
    part_names: found.parts,
    finishes: found.finishes,
    fitted: longest > 4 || longest < 0.1 ? 1 : 0,
    // Before the words, not within them.
    place: { position: { x: 0, y: 0, z: Object.keys(shot.things ?? {}).length ? 0.8 : 0 } },
  };
  session.edit([{ op: "add", path: `/things/${id}`, value }]);
  pointAt({ thing: id });
  const what = `${found.triangles} triangles in ${found.parts.length} ${found.parts.length === 1 ? "part" : "parts"}`;
  say(found.left_out.length ? `${what}. Left out: ${found.left_out.join(", ")}` : what);
}

export const traced = (file: string, wish: Schemas["Tracing"]) =>
  got(api.POST("/api/library/pictures/{file}/trace", { params: { path: { file } }, body: wish }));
