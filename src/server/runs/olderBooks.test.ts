import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { expect, inject, test } from "vitest";
import { encodeJson } from "@/core/shared";
import { worldInFolder } from "../../../tests/folders";
import { thingsOfAlpha } from "../../../tests/thingsOfAlpha";
import { callerOf, must } from "../../../tests/world";
import { openDatabase, rows, type Database } from "../db";
import { postRun, readProposal } from "./index";

/** All runs of the books with what they propose. */
async function proposals(database: Database) {
  const runs = await rows<{ id: bigint; states: string }>(
    database.db,
    sql`select r.id, string_agg(i.state || coalesce(' ' || i.taken_as, ''), ',' order by i.no) as states from run r
      left join run_item i on i.run_id = r.id group by r.id order by r.id`,
  );
  return Promise.all(
    runs.map(async ({ id, states }) => ({
      id: Number(id),
      states,
      ...(await readProposal(database.db, Number(id))),
    })),
  );
}

test.skipIf(inject("server") !== null)(
  "runs of older books keep their items and journals; an older preview is posted as it was shown",
  async () => {
    const scratch = mkdtempSync(path.join(tmpdir(), "runs-"));
    const folder = worldInFolder(path.join(scratch, "data"));
    let database = await openDatabase({ folder });
    const { preview } = await thingsOfAlpha(database);
    const before = await proposals(database);
    expect(before.length).toBeGreaterThan(1);
    await database.db.execute(sql`alter table run add column proposal jsonb`);
    for (const { id, states: _states, ...proposal } of before)
      await database.db.execute(
        sql`update run set proposal = ${encodeJson(proposal)}::jsonb where id = ${id}`,
      );
    for (const statement of [
      `create table run_reservation as select taken_as as kind, key as item_key, run_id
        from run_item where taken_as is not null`,
      "drop table run_item, run_draft, run_part, job",
      "alter table run drop column head, drop column detail, drop column stand",
      "delete from migration where tag like '0047%' or tag like '0048%'",
    ])
      await database.db.execute(sql.raw(statement));
    await database.close();
    database = await openDatabase({ folder });
    expect(await proposals(database)).toEqual(before);
    must(await postRun(await callerOf(database, "root"), { key: String(preview.id) }));
    await database.close();
    rmSync(scratch, { recursive: true, force: true });
  },
);
