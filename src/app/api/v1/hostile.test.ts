import { beforeAll, expect, test, inject } from "vitest";
import { PASSWORD } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { ENDPOINTS } from "./endpoints";
import { GET, POST } from "./[...path]/route";

const w = world();
let token = "";
let asked = 0;

const EVIL = [
  "",
  " ",
  "foo",
  "%",
  "%25",
  "%E0%A4%A",
  "0",
  "-1",
  "1.5",
  "1e9",
  "2147483648",
  "9007199254740993",
  "99999999999999999999",
  "NaN",
  "null",
  "true",
  "2026-02-30",
  "2026-13",
  "2026-13-45",
  "0000-01-01",
  "99999-01-01",
  "2026-10-31T25:00",
  "2026-10-31T10:00+99:00",
  "infinity",
  "now",
  "'; drop table journal; --",
  "a\u0000b",
  "\ud800",
  "🚢",
  "..",
  "a,b",
  "1..2",
  "[]",
  "x".repeat(20_000),
];
const seen = new Map<string, number>();
/**
 * What is tried in a place of that name: everything the first time; then, for names that many
 * requests have, each time another fifth of it.
 */
function tried<T>(name: string, values: readonly T[]): T[] {
  const before = seen.get(name) ?? 0;
  seen.set(name, before + 1);
  return before === 0 ? [...values] : values.filter((_, i) => (i + before) % 5 === 0);
}

/** What makes the rest of a request sensible, so that the evil part is reached. */
const GOOD: Record<string, string> = {
  company: "ALP",
  period: "2026-10",
  from: "2026-10-01",
  to: "2026-10-31",
  date: "2026-10-07",
  on: "2026-10-31",
  area: "payables",
  key: "1",
  id: "1",
  code: "income-statement",
  accounts: "6310",
  kind: "spot",
};

/** A token takes so many requests a minute: a new one in time. */
async function newToken(): Promise<void> {
  const made = await ask("post", ["tokens"], new URLSearchParams(), {
    user: "root",
    password: PASSWORD,
  });
  token = (JSON.parse(made.text) as { token: string }).token;
}

async function ask(
  method: "get" | "post",
  path: readonly string[],
  query: URLSearchParams,
  body?: unknown,
): Promise<{ status: number; text: string }> {
  if (path[0] !== "tokens" && ++asked % 1000 === 0) await newToken();
  const request = new Request(`http://127.0.0.1/api/v1/x?${query.toString()}`, {
    method: method.toUpperCase(),
    headers: { authorization: `Bearer ${token}` },
    ...(method === "post" ? { body: JSON.stringify(body ?? {}) } : {}),
  });
  const response = await (method === "get" ? GET : POST)(request, {
    params: Promise.resolve({ path: [...path] }),
  });
  return { status: response.status, text: await response.text() };
}

const pathOf = (path: string, evil?: { name: string; value: string }): string[] =>
  path
    .slice(1)
    .split("/")
    .map((part) => {
      const name = /^\{(.+)\}$/.exec(part)?.[1];
      if (!name) return part;
      return evil?.name === name ? evil.value : (GOOD[name] ?? "1");
    });

beforeAll(async () => {
  (globalThis as unknown as { yellowAnchorDatabase: unknown }).yellowAnchorDatabase =
    Promise.resolve(w.database);
  await newToken();
});

const fieldsOf = (schema: unknown): string[] =>
  schema === undefined
    ? []
    : Object.keys((schema as { describe(): { fields?: object } }).describe().fields ?? {});

interface Described {
  fields?: Record<string, Described>;
  innerType?: Described;
}
/** The fields of each list of a body. */
const listsOf = (schema: unknown): [string, string][] =>
  schema === undefined
    ? []
    : Object.entries((schema as { describe(): Described }).describe().fields ?? {}).flatMap(
        ([name, field]) =>
          Object.keys(field.innerType?.fields ?? {}).map((inner): [string, string] => [
            name,
            inner,
          ]),
      );

// One database tells: what is asked of the two is the same.
test.skipIf(!inject("server"))(
  "whatever stands in an address or a body, the answer is a result or says what is wrong",
  async () => {
    const broken = new Set<string>();
    const judge = (what: string, { status, text }: { status: number; text: string }) => {
      if (status < 400) return;
      const said = /"message":"[^"]{5,}/.test(text);
      if (![401, 403, 404, 409, 413, 422].includes(status) || !said)
        broken.add(`${what}: ${status} ${text.slice(0, 120)}`);
    };
    for (const e of ENDPOINTS.filter((e) => e.path !== "/tokens")) {
      const queries = fieldsOf(e.query);
      const bodies = fieldsOf(e.body);
      const common = () =>
        new URLSearchParams(queries.flatMap((q) => (GOOD[q] ? [[q, GOOD[q]]] : [])));
      const plain = Object.fromEntries(bodies.flatMap((b) => (GOOD[b] ? [[b, GOOD[b]]] : [])));
      judge(`${e.method} ${e.path}`, await ask(e.method, pathOf(e.path), common(), plain));
      for (const [, name] of e.path.matchAll(/\{(\w+)\}/g))
        for (const value of tried(`{${name}}`, EVIL))
          judge(
            `${e.method} ${e.path} {${name}} ${JSON.stringify(value.slice(0, 30))}`,
            await ask(e.method, pathOf(e.path, { name: name!, value }), common(), plain),
          );
      for (const q of queries)
        for (const value of tried(`?${q}`, EVIL)) {
          const query = common();
          query.set(q, value);
          judge(
            `${e.method} ${e.path}?${q}=${JSON.stringify(value.slice(0, 30))}`,
            await ask(e.method, pathOf(e.path), query, plain),
          );
        }
      for (const b of bodies)
        for (const value of tried(b, [...EVIL, null, 7, -1e308, [], {}, [[]], [{}], [null], true]))
          judge(
            `${e.method} ${e.path} ${b}: ${JSON.stringify(value)?.slice(0, 40)}`,
            await ask(e.method, pathOf(e.path), common(), { ...plain, [b]: value }),
          );
      for (const [list, inner] of listsOf(e.body))
        for (const value of tried(`[].${inner}`, [...EVIL, null, 7, [], {}]))
          judge(
            `${e.method} ${e.path} ${list}[].${inner}: ${JSON.stringify(value)?.slice(0, 40)}`,
            await ask(e.method, pathOf(e.path), common(), {
              ...plain,
              [list]: [{ [inner]: value }],
            }),
          );
      if (e.method === "post" && !e.takesFile)
        for (const body of [null, [], "text", 7, [[]]])
          judge(
            `${e.method} ${e.path} body ${JSON.stringify(body)}`,
            await ask(e.method, pathOf(e.path), common(), body),
          );
    }
    // Said in full: a list that is cut would hide the next one.
    expect([...broken].join("\n")).toBe("");
  },
  600_000,
);
