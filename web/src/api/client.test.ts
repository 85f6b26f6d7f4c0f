// @vitest-environment jsdom
import { afterEach, expect, test, vi } from "vitest";
import { bringFile, got, gotBytes, Refused, Unreachable } from "./client";

afterEach(() => vi.unstubAllGlobals());

const answers = (make: () => Response | Error) =>
  vi.stubGlobal(
    "fetch",
    vi.fn(() => {
      const answer = make();
      return answer instanceof Error ? Promise.reject(answer) : Promise.resolve(answer);
    }),
  );
const problem = { title: "Not from here", status: 403, detail: "another site sent this", faults: [] };

test("an answer that says no is told in the core's words", async () => {
  answers(() => Response.json(problem, { status: 403 }));
  const refused = await gotBytes("/api/shots").catch((why: unknown) => why);
  expect(refused).toBeInstanceOf(Refused);
  expect((refused as Refused).message).toBe(problem.detail);
  expect((refused as Refused).status).toBe(403);
});

test("a no without words still says what happened", async () => {
  answers(() => new Response("<html>", { status: 502 }));
  await expect(gotBytes("/api/shots")).rejects.toThrow("The server answered 502.");
  const response = new Response(null, { status: 504 });
  await expect(got(Promise.resolve({ response }))).rejects.toThrow("The server answered 504.");
});

test("a server that is away is told apart from one that says no", async () => {
  answers(() => new TypeError("network"));
  await expect(gotBytes("/api/shots")).rejects.toBeInstanceOf(Unreachable);
  await expect(got(Promise.reject(new TypeError("network")))).rejects.toBeInstanceOf(Unreachable);
});

test("what was called off is not said to be away", async () => {
  answers(() => Object.assign(new Error("called off"), { name: "AbortError" }));
  await expect(gotBytes("/api/shots")).rejects.toMatchObject({ name: "AbortError" });
});

test("data is handed on as it is", async () => {
  const response = Response.json({ name: "Kettle Weir" });
  await expect(got(Promise.resolve({ data: { name: "Kettle Weir" }, response }))).resolves.toEqual({
    name: "Kettle Weir",
  });
});

test("a file is sent as its bytes, and what was made of it comes back", async () => {
  answers(() => Response.json({ file: "abc", triangles: 12 }));
  const file = new Blob([new Uint8Array([1, 2, 3])]);
  await expect(bringFile("/api/library/meshes", file)).resolves.toEqual({ file: "abc", triangles: 12 });
  const [address, init] = vi.mocked(fetch).mock.calls[0]!;
  expect(address).toBe("/api/library/meshes");
  expect(init).toMatchObject({ method: "POST", body: file });
});
