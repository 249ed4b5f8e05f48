import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { runAs } from "../src/server/access";
import { openDatabase } from "../src/server/db";
import { sealNow, sealPlace } from "../src/server/evidence";
import { postDrafts } from "../src/server/ledger";
import { benchJournal, prepare } from "./ledger";
import type { Bar } from "./measure";

const JOURNALS = 400;
const ROUNDS = 5;

/**
 * What sealing costs beside the posting of what it seals: journals one by one, then the seal over
 * all that they have made final.
 */
export async function measureSeals(say: (line: string) => void): Promise<Bar> {
  const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-seals-"));
  const database = await openDatabase({ folder });
  const caller = await prepare(database);
  const place = sealPlace(folder);
  const timed = async (work: () => Promise<unknown>) => {
    const start = process.hrtime.bigint();
    await work();
    return Number(process.hrtime.bigint() - start) / 1e6;
  };
  let next = 1;
  const post = () =>
    runAs(caller, async (c) => {
      const posted = await postDrafts(c, [benchJournal(next++ * 3)]);
      if (!posted.ok) throw new Error(JSON.stringify(posted.problems));
      return posted;
    });
  try {
    await sealNow(database, place);
    let posting = 0;
    let sealing = 0;
    for (let round = 0; round < ROUNDS; round++) {
      posting += await timed(async () => {
        for (let i = 0; i < JOURNALS; i++) await post();
      });
      sealing += await timed(() => sealNow(database, place));
    }
    const count = JOURNALS * ROUNDS;
    say(
      `  sealing: ${(sealing / count).toFixed(2)} ms for each journal, posted in ${(posting / count).toFixed(2)} ms`,
    );
    return {
      work: `posting ${count.toLocaleString("en")} journals and sealing them`,
      against: "posting them",
      kind: "atMost",
      bar: 1.1,
      measured: (posting + sealing) / posting,
      workMs: (posting + sealing) / count,
      againstMs: posting / count,
    };
  } finally {
    await database.close();
    rmSync(folder, { recursive: true, force: true });
  }
}
