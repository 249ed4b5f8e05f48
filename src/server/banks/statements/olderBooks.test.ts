import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { expect, inject, test } from "vitest";
import { worldInFolder } from "../../../../tests/folders";
import { callerOf, must } from "../../../../tests/world";
import { openDatabase, rows } from "../../db";
import { listLineRules, saveLineRule } from "../index";

test.skipIf(inject("server") !== null)(
  "rules of older books make of their lines what they made",
  async () => {
    const scratch = mkdtempSync(path.join(tmpdir(), "rules-"));
    const folder = worldInFolder(path.join(scratch, "data"));
    let database = await openDatabase({ folder });
    const root = await callerOf(database, "root");
    const coding = { account: "6310", dimensions: { costCentre: "HARB" } };
    for (const [place, outcome] of [
      [1, { outcome: "leave" }],
      [2, { outcome: "partner", partner: "PEL" }],
      [3, { outcome: "coding", ...coding }],
    ] as const)
      must(
        await saveLineRule(root, {
          company: "ALP",
          name: `R${place}`,
          place,
          text: "x",
          ...outcome,
        }),
      );
    const before = must(await listLineRules(root, { company: "ALP" }));
    // As they were kept: four fields, of which one says something.
    await database.db.execute(sql`update line_rule set outcome = jsonb_build_object(
      'kind', coalesce(outcome ->> 'kind', ''), 'coding', outcome -> 'coding',
      'partner', coalesce(outcome ->> 'partner', ''), 'leave', outcome ->> 'is' = 'leave')`);
    await database.db.execute(sql`delete from migration where tag like '0059%'`);
    await database.close();
    database = await openDatabase({ folder });
    const after = await rows<{ outcome: object }>(
      database.db,
      sql`select outcome from line_rule order by place`,
    );
    expect(after.map((a) => a.outcome)).toEqual(before.map((b) => b.outcome));
    await database.close();
    rmSync(scratch, { recursive: true, force: true });
  },
);
