import { may } from "@/core/access";
import { describeFound, parse } from "@/core/shared";
import { allowed, personOf, type Caller } from "@/server/access";
import { sha256 } from "@/server/db";
import { log } from "@/server/log";
import { getDatabase } from "@/server/runtime";
import { readBody, readText } from "@/app/lib/readBody";
import type { Endpoint } from "../endpoint";
import { ENDPOINTS, problemsJson } from "../endpoints";
import { openApi } from "../openApi";

const MOST_BYTES = 32 * 1_048_576;
/** What is read of somebody who has not signed in: a name and a password fit. */
const MOST_OF_A_STRANGER = 4_096;
const LONGEST_KEY = 200;

const tooLarge = (limit: number): Response =>
  Response.json(
    problemsJson([
      {
        code: "INVALID",
        what: `The request is larger than ${limit < 1_048_576 ? `${limit / 1024} kB` : `${limit / 1_048_576} MB`}`,
      },
    ]),
    { status: 413, headers: { Connection: "close" } },
  );

/** Whether the person holds none of the rights, in any company, that an endpoint needs. */
const lacksRight = ({ needs }: Endpoint, { person }: Caller): boolean =>
  needs !== undefined &&
  needs !== "signed-in" &&
  !needs.some((right) => may(person?.grants ?? [], right));

export const GET = (request: Request, context: { params: Promise<{ path: string[] }> }) =>
  kept(answer("get", request, context));
export const POST = (request: Request, context: { params: Promise<{ path: string[] }> }) =>
  kept(answer("post", request, context));

/** No answer is kept by anybody on the way: it may be out of date, and it is nobody else's. */
async function kept(answered: Promise<Response>): Promise<Response> {
  const response = await answered;
  response.headers.set("Cache-Control", "no-store");
  return response;
}

async function answer(
  method: "get" | "post",
  request: Request,
  context: { params: Promise<{ path: string[] }> },
): Promise<Response> {
  const { path } = await context.params;
  if (method === "get" && path.join("/") === "openapi.json")
    return Response.json(openApi(new URL(request.url).origin));
  const found = match(method, path);
  if (!found)
    return Response.json(
      {
        problems: [
          {
            line: null,
            field: null,
            code: "NOT_FOUND",
            message: "There is no such address; see /api/v1/openapi.json.",
          },
        ],
      },
      { status: 404 },
    );
  const { endpoint, parameters } = found;
  try {
    const database = await getDatabase();
    const bearer = /^Bearer (.+)$/i.exec(request.headers.get("authorization") ?? "")?.[1];
    const caller: Caller = { database, person: await personOf(database, bearer, "token") };
    if (!endpoint.open && !caller.person)
      return Response.json(
        {
          problems: [
            {
              line: null,
              field: null,
              code: "UNAUTHENTICATED",
              message: "A valid token is needed: POST /api/v1/tokens gives one.",
            },
          ],
        },
        { status: 401, headers: { "WWW-Authenticate": "Bearer" } },
      );
    const origin = request.headers.get("x-forwarded-for") ?? "local";
    if (!allowed("api", bearer ? sha256(bearer) : origin, 1200))
      return Response.json(problemsJson([{ code: "TOO_MANY_REQUESTS" }]), {
        status: 429,
        headers: { "Retry-After": "60" },
      });

    const query = endpoint.query
      ? parse(endpoint.query, Object.fromEntries(new URL(request.url).searchParams))
      : { ok: true as const, value: {} };
    if (!query.ok) return Response.json(problemsJson(query.problems), { status: 422 });
    const key = request.headers.get("idempotency-key") ?? "";
    if (key.length > LONGEST_KEY)
      return Response.json(
        problemsJson([
          { code: "INVALID", what: `The Idempotency-Key is longer than ${LONGEST_KEY} characters` },
        ]),
        { status: 400 },
      );
    // Before a byte of the body is read, and before anything is said about its shape.
    if (lacksRight(endpoint, caller))
      return Response.json(problemsJson([{ code: "FORBIDDEN", what: "do this" }]), { status: 403 });
    let body: unknown = {};
    let file = new Uint8Array();
    if (method === "post" && endpoint.takesFile) {
      const bytes = await readBody(request, MOST_BYTES);
      if (bytes === null) return tooLarge(MOST_BYTES);
      file = new Uint8Array(bytes);
      if (key)
        caller.idempotency = {
          key,
          requestHash: sha256(`${request.url}\n${Buffer.from(file).toString("base64")}`),
        };
    } else if (method === "post") {
      const limit = endpoint.open ? MOST_OF_A_STRANGER : MOST_BYTES;
      const text = await readText(request, limit);
      if (text === null) return tooLarge(limit);
      if (key)
        caller.idempotency = {
          key,
          requestHash: sha256(`${new URL(request.url).pathname}\n${text}`),
        };
      try {
        body = text.trim() === "" ? {} : JSON.parse(text);
      } catch {
        return Response.json(problemsJson([{ code: "INVALID", what: "The request is not JSON" }]), {
          status: 400,
        });
      }
      if (endpoint.body) {
        const parsed = parse(endpoint.body, body);
        if (!parsed.ok) return Response.json(problemsJson(parsed.problems), { status: 422 });
        body = parsed.value;
      }
    }
    const result = await endpoint.handle({
      caller,
      path: parameters,
      query: query.value as Record<string, unknown>,
      body,
      file,
      origin,
    });
    if (result instanceof Response) return result;
    if (result.ok) return Response.json(result.value, { status: endpoint.status ?? 200 });
    const codes = new Set(result.problems.map((p) => p.code));
    const status =
      codes.has("SIGN_IN_FAILED") ||
      codes.has("SECOND_FACTOR_NEEDED") ||
      codes.has("SECOND_FACTOR_WRONG") ||
      codes.has("SIGN_IN_LOCKED")
        ? 401
        : codes.has("FORBIDDEN")
          ? 403
          : codes.has("NOT_FOUND")
            ? 404
            : codes.has("TOO_MANY_REQUESTS")
              ? 429
              : codes.has("UNAVAILABLE")
                ? 503
                : codes.has("IDEMPOTENCY_REUSED") || codes.has("STALE")
                  ? 409
                  : 422;
    return Response.json(problemsJson(result.problems), { status });
  } catch (error) {
    log.error({ err: error, path: path.join("/") }, "request failed");
    return Response.json(
      {
        problems: [
          {
            line: null,
            field: null,
            code: "FAILED",
            message: describeFound({
              code: "UNAVAILABLE",
              what: "The request could not be answered; nothing was changed",
            }),
          },
        ],
      },
      { status: 500 },
    );
  }
}

/** A part of the path as it was meant; null where it can't be the name of anything. */
function decoded(part: string): string | null {
  try {
    return decodeURIComponent(part);
  } catch {
    return null;
  }
}

function match(
  method: string,
  path: readonly string[],
): { endpoint: Endpoint; parameters: Record<string, string> } | null {
  for (const endpoint of ENDPOINTS) {
    const parts = endpoint.path.slice(1).split("/");
    if (endpoint.method !== method || parts.length !== path.length) continue;
    const parameters: Record<string, string> = {};
    const fits = parts.every((part, i) => {
      const name = /^\{(.+)\}$/.exec(part)?.[1];
      if (!name) return part === path[i];
      const text = decoded(path[i]!);
      if (text !== null) parameters[name] = text;
      return text !== null;
    });
    if (fits) return { endpoint, parameters };
  }
  return null;
}
