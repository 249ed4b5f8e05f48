import { spawn, spawnSync, type ChildProcess } from "node:child_process";
import { rmSync } from "node:fs";
import path from "node:path";
import { gzipSync } from "node:zlib";
import { DEMO_PASSWORD } from "../src/demo/people";
import { signIn } from "../src/server/access";
import { openDatabase } from "../src/server/db";
import { freePort } from "../tests/databases";
import { screens } from "../e2e/screenList";
import { measureGrid } from "./grid";
import { measureOutside } from "./outside";
import type { Bar } from "./measure";

const SERVER = path.resolve("scripts/server.mjs");
const NEXT = path.resolve("node_modules/next/dist/bin/next");
/** An authenticated page in the same frame that reads nothing but the person. */
const PLAIN = "/account";
const ROUNDS = 20;

interface Served {
  base: string;
  cookie: string;
  pid: number;
  stop(): Promise<void>;
}

const clock = (): number => Number(process.hrtime.bigint()) / 1e6;
const percentile = (list: readonly number[], share: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.ceil(list.length * share) - 1)]!;

async function listen(
  cwd: string | null,
  env: Record<string, string>,
): Promise<{ base: string; child: ChildProcess }> {
  const port = await freePort();
  const child = spawn(
    process.execPath,
    [...(cwd ? [NEXT, "start", cwd] : [SERVER]), "-H", "127.0.0.1", "-p", String(port)],
    {
      stdio: "ignore",
      env: { ...process.env, NODE_ENV: "production", NEXT_TELEMETRY_DISABLED: "1", ...env },
    },
  );
  const base = `http://127.0.0.1:${port}`;
  for (let i = 0; i < 300; i++) {
    if (
      await fetch(base, { redirect: "manual" }).then(
        () => true,
        () => false,
      )
    )
      return { base, child };
    await new Promise((r) => setTimeout(r, 200));
  }
  throw new Error("the application does not answer");
}

const end = (child: ChildProcess): Promise<void> =>
  new Promise((resolve) => {
    child.once("exit", () => resolve());
    child.kill("SIGTERM");
  });

/** Serves a data folder, signed in as one of its people. */
async function serveFolder(folder: string, login: string, password: string): Promise<Served> {
  const database = await openDatabase({ folder });
  const session = await signIn(database, login, password, "screen");
  await database.close();
  if (!session.ok) throw new Error("nobody could sign in");
  const { base, child } = await listen(null, { YELLOW_ANCHOR_DATA: folder, DATABASE_URL: "" });
  const cookie = `anchor_session=${session.value.secret}`;
  return { base, cookie, pid: child.pid!, stop: () => end(child) };
}

async function ask(served: Served, where: string): Promise<{ ms: number; html: string }> {
  const start = clock();
  const response = await fetch(served.base + where, {
    headers: { cookie: served.cookie },
    redirect: "manual",
  });
  const html = await response.text();
  if (response.status !== 200) throw new Error(`${where} answered ${response.status}`);
  return { ms: clock() - start, html };
}

/** The screen and the plain page in turns, both warm: their times at the 95th percentile. */
async function timesOf(
  served: Served,
  where: string,
): Promise<{ screen: number; plain: number; median: number }> {
  const screen: number[] = [];
  const plain: number[] = [];
  for (let i = 0; i < 4; i++) {
    await ask(served, where);
    await ask(served, PLAIN);
  }
  for (let i = 0; i < ROUNDS; i++) {
    screen.push((await ask(served, where)).ms);
    // The plain page is the same for all screens: half as often is often enough.
    if (i % 2 === 0) plain.push((await ask(served, PLAIN)).ms);
  }
  return {
    screen: percentile(screen, 0.95),
    plain: percentile(plain, 0.95),
    median: percentile(screen, 0.5),
  };
}

/** Compressed bytes of the scripts that a page asks for when it is first loaded. */
async function scriptBytes(base: string, html: string): Promise<number> {
  const sources = new Set(
    [...html.matchAll(/<script[^>]+src="([^"]+)"/g)]
      .filter((m) => !/noModule/i.test(m[0]))
      .map((m) => m[1]!.replaceAll("&amp;", "&")),
  );
  let total = 0;
  for (const source of sources)
    total += gzipSync(Buffer.from(await (await fetch(base + source)).arrayBuffer())).length;
  return total;
}

/**
 * Measures every screen: against a plain page, the bench ledger against the demo's, five people
 * against one, and what a first load brings.
 */
export async function measureScreens(
  benchFolder: string,
  say: (line: string) => void,
): Promise<Bar[]> {
  const demoFolder = path.join(benchFolder, "demo");
  const run = (args: string[]) => {
    const done = spawnSync(process.execPath, args, {
      stdio: ["ignore", "ignore", "inherit"],
      env: { ...process.env, DATABASE_URL: "", NEXT_TELEMETRY_DISABLED: "1" },
    });
    if (done.status !== 0) throw new Error(`${args.join(" ")} failed`);
  };
  run(["scripts/fromSources.mjs", "src/demo/main.ts", demoFolder]);
  run([NEXT, "build", "bench/empty-page"]);
  const bars: Bar[] = [];
  const demo = await serveFolder(demoFolder, "controller", DEMO_PASSWORD);
  const demoScreens = screens("HSF", {
    account: "6410",
    journal: "HSF-26-00700",
    run: "HSF-25-R0001",
    partner: "S-102",
  });
  const single = new Map<string, { screen: number; plain: number; median: number }>();
  let bytes = { most: 0, where: "", empty: 0 };
  try {
    const empty = await listen("bench/empty-page", {});
    bytes.empty = await scriptBytes(empty.base, await (await fetch(empty.base)).text());
    await end(empty.child);
    for (const { name, where } of demoScreens) {
      const times = await timesOf(demo, where);
      single.set(name, times);
      const size = await scriptBytes(demo.base, (await ask(demo, where)).html);
      if (size > bytes.most) bytes = { ...bytes, most: size, where: name };
      say(
        `  ${name}: ${times.screen.toFixed(1)} ms at the 95th percentile (median ${times.median.toFixed(1)}), plain page ${times.plain.toFixed(1)}; scripts ${(size / 1000).toFixed(0)} kB`,
      );
    }
    bars.push(...(await measureGrid(demo.base, say)));
    bars.push(...(await measureOutside(demo, say)));
    const crowd = await fivePeople(
      demo,
      demoScreens.map((s) => s.where),
    );
    for (const { name, where } of demoScreens)
      say(`  ${name}, five people: ${percentile(crowd.times.get(where)!, 0.95).toFixed(1)} ms`);
    const ratios = demoScreens
      .map(({ name, where }) => ({
        name,
        ratio: percentile(crowd.times.get(where)!, 0.95) / single.get(name)!.screen,
        work: percentile(crowd.times.get(where)!, 0.95),
        against: single.get(name)!.screen,
      }))
      .sort((a, b) => b.ratio - a.ratio);
    const worst = [...single]
      .map(([name, t]) => ({ name, ratio: t.screen / t.plain, ...t }))
      .sort((a, b) => b.ratio - a.ratio)[0]!;
    bars.push({
      work: `slowest screen of the demo: ${worst.name}`,
      against: "a page that reads one row",
      kind: "atMost",
      bar: 10,
      measured: worst.ratio,
      workMs: worst.screen,
      againstMs: worst.plain,
    });
    bars.push({
      work: `five people, one proposing year ends by dimension (${crowd.posted}): ${ratios[0]!.name}`,
      against: "itself, one person",
      kind: "atMost",
      bar: 6,
      measured: ratios[0]!.ratio,
      workMs: ratios[0]!.work,
      againstMs: ratios[0]!.against,
    });
    bars.push({
      work: `scripts at first load, kB over the empty page: ${bytes.where}`,
      against: "250 kB",
      kind: "atMost",
      bar: 1,
      measured: (bytes.most - bytes.empty) / 250_000,
      workMs: (bytes.most - bytes.empty) / 1000,
      againstMs: 250,
      unit: "kB",
    });
  } finally {
    await demo.stop();
    rmSync("bench/empty-page/.next", { recursive: true, force: true });
  }
  const large = await serveFolder(benchFolder, "bench", "bench bench bench");
  try {
    const ratios = [];
    for (const { name, where } of screens("ONE", { account: "B7" })) {
      const times = await timesOf(large, where);
      const before = single.get(name)!;
      ratios.push({
        name,
        work: times.screen,
        against: before.screen,
        ratio: times.screen / before.screen,
      });
      say(
        `  ${name}, bench ledger: ${times.screen.toFixed(1)} ms at the 95th percentile (median ${times.median.toFixed(1)}), demo ${before.screen.toFixed(1)}`,
      );
    }
    const worst = ratios.sort((a, b) => b.ratio - a.ratio)[0]!;
    bars.push({
      work: `bench ledger: ${worst.name}`,
      against: "itself, demo",
      kind: "atMost",
      bar: 3,
      measured: worst.ratio,
      workMs: worst.work,
      againstMs: worst.against,
    });
  } finally {
    await large.stop();
  }
  return bars;
}

/**
 * Four people who go from screen to screen with a breath between, while a fifth proposes and
 * discards the largest run there is without one.
 */
async function fivePeople(
  served: Served,
  wheres: readonly string[],
): Promise<{ times: Map<string, number[]>; posted: number }> {
  const times = new Map(wheres.map((w) => [w, [] as number[]]));
  let busy = true;
  let posted = 0;
  const { token } = (await (
    await fetch(`${served.base}/api/v1/tokens`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ user: "controller", password: DEMO_PASSWORD }),
    })
  ).json()) as { token: string };
  const runs = async (path: string, body: unknown) => {
    const response = await fetch(`${served.base}/api/v1/runs${path}`, {
      method: "POST",
      headers: { authorization: `Bearer ${token}`, "content-type": "application/json" },
      body: JSON.stringify(body),
    });
    if (response.status === 429) await new Promise((r) => setTimeout(r, 300));
    else if (!response.ok)
      throw new Error(
        `the run answered ${response.status}: ${(await response.text()).slice(0, 300)}`,
      );
    return (await response.json()) as { number?: string };
  };
  const poster = (async () => {
    while (busy) {
      const { number } = await runs("", {
        kind: "year-end",
        params: { company: "HSF", year: "2026", book: "IFRS", byDimension: true },
      });
      if (number) await runs(`/${number}/discard`, {});
      posted++;
    }
  })();
  await Promise.all(
    [0, 1, 2, 3].map(async (who) => {
      for (let round = 0; round < ROUNDS / 4; round++)
        for (let i = 0; i < wheres.length; i++) {
          const where = wheres[(i + who * 5) % wheres.length]!;
          times.get(where)!.push((await ask(served, where)).ms);
          await new Promise((r) => setTimeout(r, 100));
        }
    }),
  );
  busy = false;
  await poster;
  return { times, posted };
}
