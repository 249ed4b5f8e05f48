import { Client } from "./client";
import type { Scene } from "./people";
import { outcome, type Outcome } from "./report";

const AREA = "not signed in";

interface OpenApi {
  paths: Record<string, Record<string, unknown>>;
}

/** Whoever has not signed in, and pages that are not ours. */
export async function attackAsStranger({ base, browser, accountant }: Scene): Promise<Outcome[]> {
  const stranger = Client.stranger(base);
  const { paths } = await accountant.read<OpenApi>("/api/v1/openapi.json");
  let open = 0;
  let tried = 0;
  for (const [path, works] of Object.entries(paths)) {
    if (path.endsWith("/tokens")) continue;
    const place = `/api/v1${path.replace(/\{\w+\}/g, "1")}`;
    for (const method of Object.keys(works)) {
      tried++;
      const answer = method === "get" ? await stranger.get(place) : await stranger.post(place, {});
      if (answer.status !== 401) open++;
    }
  }
  const same = { id: 1, content: {} };
  const draft = await stranger.post("/drafts?work=save", same);
  const file = await stranger.post("/files?work=chart", "number,name");
  const foreign = await browser.post("/drafts?work=save", same, {
    Origin: "https://elsewhere.example",
  });
  const framed = await browser.post("/drafts?work=save", same, { Origin: "null" });
  const strange = await browser.post("/drafts?work=constructor", same);
  const page = await stranger.get("/ledger/journals");
  const list = await accountant.get("/api/v1/companies");
  const cached = list.headers.get("cache-control") ?? "";
  const long = await accountant.post(
    "/api/v1/journals",
    {},
    { "Idempotency-Key": "k".repeat(300) },
  );
  return [
    outcome(
      AREA,
      `asks all ${tried} addresses`,
      "401 each",
      `${open} open`,
      open === 0 && tried > 50,
    ),
    outcome(AREA, "keeps a draft", "401", draft.status, draft.status === 401),
    outcome(AREA, "sends a file", "401", file.status, file.status === 401),
    outcome(AREA, "opens a page", "307", page.status, page.status === 307),
    outcome("another site", "sends a draft", "403", foreign.status, foreign.status === 403),
    outcome(
      "another site",
      "from a frame without origin",
      "403",
      framed.status,
      framed.status === 403,
    ),
    outcome("odd requests", "a work that is none", "404", strange.status, strange.status === 404),
    outcome("odd requests", "a key too long to keep", "400", long.status, long.status === 400),
    outcome(
      "odd requests",
      "data kept by a cache",
      "no-store",
      cached,
      cached.includes("no-store"),
    ),
  ];
}

/** Guesses of passwords, with a made-up address each time; comes last, since it locks this one out. */
export async function attackSignIn(
  { base, admin, own }: Scene,
  patient: boolean,
): Promise<Outcome[]> {
  const weak = ["aaaaaaaaaaaa", "123456789012", "password1234", "qwertyuiop12"];
  let taken = 0;
  for (const [i, password] of weak.entries()) {
    const grants = [{ role: "auditor", company: own }];
    const person = { login: `weak-${i}`, name: "Weak", password, grants };
    if ((await admin.post("/api/v1/people", person)).status !== 422) taken++;
  }
  const weakOnes = outcome("passwords", "weak ones", "422 each", `${taken} taken`, taken === 0);
  return patient ? [weakOnes, await guesses(base)] : [weakOnes];
}

/** Whoever guesses is told to wait, whatever address they make up. */
async function guesses(base: string): Promise<Outcome> {
  const stranger = Client.stranger(base);
  let answered = 0;
  for (let i = 0; i < 60; i++) {
    const guess = { user: `nobody-${i}`, password: "a wrong guess" };
    const from = { "X-Forwarded-For": `192.0.2.${i}` };
    if ((await stranger.post("/api/v1/tokens", guess, from)).status === 401) answered++;
  }
  const attack = "60 guesses, each from “another” address";
  return outcome("passwords", attack, "at most 30", answered, answered <= 30);
}
