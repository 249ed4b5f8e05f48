import { outsideFiles, whileReading } from "../attack/machine";
import type { Bar } from "./measure";

export interface Served {
  base: string;
  cookie: string;
  pid: number;
}

const MB = 1_048_576;
/** Megabytes of a large file from outside: the largest that is taken. */
const SIZE = 20;
/** Another person's page: it reads nothing but the person. */
const PAGE = "/account";

/** Another person's page while a file from outside is read, and the memory that it takes. */
export async function measureOutside(served: Served, say: (line: string) => void): Promise<Bar[]> {
  const bars: Bar[] = [];
  for (const [name, bytes] of outsideFiles(SIZE)) {
    const { before, during, looks, grown } = await whileReading(
      () => look(served),
      () => send(served, bytes),
      served.pid,
    );
    say(`  ${name}: ${looks} looks`);
    const bar = { work: `another's page while “${name}” is read`, against: "the page before" };
    bars.push({
      ...bar,
      kind: "atMost",
      bar: 2,
      measured: during / before,
      workMs: during,
      againstMs: before,
    });
    if (bytes.length < MB) continue;
    const size = bytes.length / MB;
    bars.push({
      work: `memory while “${name}” is read`,
      against: "the file",
      kind: "atMost",
      bar: 20,
      measured: grown / size,
      workMs: grown,
      againstMs: size,
      unit: "MB",
    });
  }
  return bars;
}

async function look({ base, cookie }: Served): Promise<number> {
  const from = performance.now();
  await (await fetch(base + PAGE, { headers: { cookie } })).text();
  return performance.now() - from;
}

const send = async ({ base, cookie }: Served, bytes: Uint8Array): Promise<unknown> =>
  (
    await fetch(`${base}/files?work=cells&company=HSF`, {
      method: "POST",
      body: bytes as BodyInit,
      headers: { cookie },
    })
  ).arrayBuffer();
