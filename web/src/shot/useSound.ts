import { useEffect, useRef } from "react";
import { gotBytes } from "../api/client";
import { useShotState } from "./document/context";
import type { Schemas } from "../api/client";
import { useView } from "./view";

type Sound = Schemas["Sound"];
const NONE: Record<string, Sound> = {};
// Frames that playing may be off before what is heard begins anew, and seconds that are heard while
// scrubbing.
const OFF = 3;
const SCRUB = 0.09;

/** What is heard while the shot plays, and while one scrubs. */
export function useSound(): void {
  const sounds = useShotState((s) => s.shot?.sounds ?? NONE);
  const fps = useShotState((s) => (s.shot?.format?.rate?.num ?? 25) / (s.shot?.format?.rate?.den ?? 1));
  const playing = useView((s) => s.playing);
  const pace = useView((s) => s.pace);
  const desk = useRef<Desk | null>(null);

  useEffect(() => {
    if (!Object.keys(sounds).length) return;
    desk.current ??= new Desk();
    const { current } = desk;
    for (const { file } of Object.values(sounds)) if (file) void current.fetch(file);
    if (playing) {
      let expected = useView.getState().frame;
      let begun = performance.now();
      const begin = () => {
        expected = useView.getState().frame;
        begun = performance.now();
        current.play(sounds, expected, fps, pace);
      };
      begin();
      const stop = useView.subscribe(({ frame }) => {
        // Where it loops, or is put elsewhere, what is heard goes along.
        if (
          Math.abs(frame - (expected + ((performance.now() - begun) / 1000) * fps * pace)) >
          OFF * Math.max(1, pace)
        )
          begin();
      });
      return () => {
        stop();
        current.silence();
      };
    }
    let last = useView.getState().frame;
    return useView.subscribe(({ frame, playing: plays }) => {
      if (frame === last || plays) return;
      last = frame;
      current.play(sounds, frame, fps, 1, SCRUB);
    });
  }, [sounds, fps, playing, pace]);
  useEffect(() => () => desk.current?.close(), []);
}

/** Plays samples of sounds from a frame on. */
class Desk {
  private readonly context = new AudioContext();
  private readonly buffers = new Map<string, AudioBuffer | Promise<void>>();
  private sources: AudioBufferSourceNode[] = [];

  async fetch(file: string): Promise<void> {
    if (this.buffers.has(file)) return;
    const loading = gotBytes(`/api/library/sounds/${file}`, {})
      .then((bytes) => this.context.decodeAudioData(bytes))
      .then((buffer) => void this.buffers.set(file, buffer))
      .catch(() => void this.buffers.delete(file));
    this.buffers.set(file, loading);
    await loading;
  }

  play(sounds: Record<string, Sound>, frame: number, fps: number, pace: number, seconds?: number): void {
    this.silence();
    void this.context.resume();
    for (const { on, file = "", start = 0, skip = 0, gain = 0 } of Object.values(sounds)) {
      const buffer = this.buffers.get(file);
      if (!(buffer instanceof AudioBuffer) || on === false || gain <= -60) continue;
      const source = this.context.createBufferSource();
      source.buffer = buffer;
      source.playbackRate.value = pace;
      const volume = this.context.createGain();
      volume.gain.value = 10 ** (gain / 20);
      source.connect(volume).connect(this.context.destination);
      const since = (frame - start) / fps;
      const offset = skip + Math.max(0, since);
      if (offset >= buffer.duration || (seconds !== undefined && since < 0)) continue;
      source.start(this.context.currentTime + Math.max(0, -since) / pace, offset, seconds);
      this.sources.push(source);
    }
  }

  silence(): void {
    for (const source of this.sources.splice(0)) source.stop();
  }

  close(): void {
    this.silence();
    void this.context.close();
  }
}
