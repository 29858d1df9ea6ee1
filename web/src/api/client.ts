// The one door to the server: typed by the generated schema, refusals as data.
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type S = components["schemas"];
export type Problem = S["ProblemOut"];
export type Change = { path: string; value?: unknown };

function cookie(name: string): string {
  return (
    document.cookie
      .split("; ")
      .find((c) => c.startsWith(`${name}=`))
      ?.slice(name.length + 1) ?? ""
  );
}

export const client = createClient<paths>({ baseUrl: "/" });
client.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
});

/** A document as the server reads it: it checks every field itself. */
export const plain = (value: unknown) => value as Record<string, unknown>;

/** What a question about a document as it stands sends, besides what is asked. */
export const about = (document: unknown) => ({ document: plain(document), changes: [], channel: 1 });

/** A question whose answer is a file. */
export async function ask(path: "/api/waves", body: unknown, signal?: AbortSignal): Promise<Response> {
  const response = await fetch(path, {
    method: "POST",
    body: JSON.stringify(body),
    signal: signal ?? null,
    headers: { "Content-Type": "application/json", "X-CSRFToken": cookie("csrftoken") },
  });
  if (!response.ok)
    throw new Refused(
      response.status,
      ((await response.json().catch(() => ({}))) as Partial<S["Refusal"]>).problems ?? [],
    );
  return response;
}

/** The server's answer was a refusal: what, at which field, and what to try. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problems: Problem[],
    readonly stale: S["StaleRefusal"] | null = null,
  ) {
    super(problems.map((p) => p.message).join(" ") || `The server answered ${status}.`);
  }
}

/** No answer came at all. */
export class Unreachable extends Error {}

/** The data of a call, or one of the two errors above. */
export async function call<T>(sent: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got;
  try {
    got = await sent;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Unreachable("No answer from the server.");
  }
  if (got.data !== undefined) return got.data;
  const body = (got.error ?? {}) as Partial<S["StaleRefusal"]>;
  throw new Refused(
    got.response.status,
    body.problems ?? [],
    got.response.status === 409 ? (body as S["StaleRefusal"]) : null,
  );
}
