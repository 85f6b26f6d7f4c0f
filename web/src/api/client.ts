import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];

export const api = createClient<paths>({ baseUrl: location.origin });

/** An answer that says no: what happened, where, and what to do (RFC 9457). */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem & {
      revision?: number;
      since?: { revision: number; kind: string; patch: unknown[] }[];
    },
  ) {
    super(problem.detail);
  }
}

/** The server could not be reached at all. */
export class Unreachable extends Error {
  constructor() {
    super("Dreizack does not answer. Nothing is lost: what you changed is sent as soon as it answers again.");
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer; throws Refused or Unreachable. */
export async function got<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch {
    throw new Unreachable();
  }
  if (answer.response.ok) return answer.data as T;
  throw new Refused(answer.response.status, (answer.error as Problem) ?? plainProblem(answer.response));
}

/** Bytes from an address, with the same errors. */
export async function gotBytes(address: string, init?: RequestInit): Promise<ArrayBuffer> {
  let response: Response;
  try {
    response = await fetch(address, init);
  } catch (why) {
    if ((why as Error).name === "AbortError") throw why;
    throw new Unreachable();
  }
  if (!response.ok) {
    const problem = (await response.json().catch(() => plainProblem(response))) as Problem;
    throw new Refused(response.status, problem);
  }
  return response.arrayBuffer();
}

/** Bring a file: its bytes as they are; what the core made of it comes back. */
export async function bringFile(address: string, file: Blob): Promise<unknown> {
  const answer = await gotBytes(address, {
    method: "POST",
    headers: { "Content-Type": "application/octet-stream" },
    body: file,
  });
  return JSON.parse(new TextDecoder().decode(answer)) as unknown;
}

/** Have the library know what a file that was brought was called; a name that is lost is no harm. */
export async function named<T extends { file: string }>(brought: T, file: File): Promise<T> {
  const asked = { params: { path: { file: brought.file } }, body: { name: file.name.slice(-200) } };
  await api.PUT("/api/library/names/{file}", asked).catch(() => undefined);
  return brought;
}

/** The same for a large file: `onSent` hears which share of it has been sent. */
export function sendFile(address: string, file: Blob, onSent: (share: number) => void): Promise<unknown> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", address);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = ({ loaded, total }) => total > 0 && onSent(loaded / total);
    request.onerror = () => reject(new Unreachable());
    request.onload = () => {
      if (request.status >= 200 && request.status < 300) return resolve(JSON.parse(request.responseText));
      let problem: Problem;
      try {
        problem = JSON.parse(request.responseText) as Problem;
      } catch {
        problem = plainProblem(new Response(null, { status: request.status }));
      }
      reject(new Refused(request.status, problem));
    };
    request.send(file);
  });
}

function plainProblem(response: Response): Problem {
  return {
    title: "Not possible",
    status: response.status,
    detail: `The server answered ${response.status}.`,
    faults: [],
  };
}
