import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test, onTestFinished } from "vitest";
import { thingsBeside } from "../../../tests/thingsBeside";
import { thingsOfAlpha } from "../../../tests/thingsOfAlpha";
import { callerOf, must, written } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { rows, type Db } from "../db";
import { approveDocument } from "../approvals";
import { createJournal } from "../ledger";
import { switchPeriods } from "../organisation";
import {
  coveredColumns,
  EVIDENCE,
  faultsOfSeals,
  faultsOfTable,
  keptSeals,
  publicKeyOf,
  putAside,
  sealHere,
  sealNow,
  type EvidenceTable,
} from "./index";

const w = world();
const place = { folder: mkdtempSync(path.join(tmpdir(), "yellow-anchor-seals-")) };
const seal = () => sealNow(w.database, place);
const again = async () =>
  must(
    await createJournal(await callerOf(w.database, "root"), {
      ...written({ type: "accrual" }),
      post: true,
    }),
  );

beforeAll(async () => {
  const things = await thingsOfAlpha(w.database);
  await thingsBeside(w.database);
  await w.database.db.execute(sql`insert into remark (document_id, person_id, text, mentions)
    values (${things.invoice.id}, 1, 'seen', '{}')`);
  await w.database.db.execute(
    sql`insert into attachment (document_id, name, type, size, content, added_by)
      values (${things.invoice.id}, 'a.txt', 'text/plain', 1, 'x', 1)`,
  );
  must(await approveDocument(await callerOf(w.database, "controller"), { id: things.waiting.id }));
  expect((await seal())!.no).toBe(1);
  return () => rmSync(place.folder, { recursive: true, force: true });
});

/** Another value of a column, by its type. */
const other = (type: string, name: string): string => {
  const column = `"${name}"`;
  if (/int|numeric/.test(type)) return `coalesce(${column}, 0) + 1`;
  if (type === "boolean") return `not ${column}`;
  if (type === "jsonb") return `'["other"]'::jsonb`;
  if (type === "bytea") return `'other'::bytea`;
  if (type === "ARRAY") return `array_append(${column}, null)`;
  if (type === "date") return `coalesce(${column}, '2020-01-01') + 1`;
  if (type.startsWith("timestamp")) return `coalesce(${column}, now()) + interval '1 second'`;
  if (type === "character") return `case ${column} when 'EUR' then 'USD' else 'EUR' end`;
  return `coalesce(${column}, '') || 'x'`;
};

/** Tries a change as somebody above all guards, looks, and takes it back. */
async function faultsAfter(change: string, entry?: EvidenceTable): Promise<string[] | "refused"> {
  let found: string[] | "refused" = "refused";
  await w.database.db
    .transaction(async (transaction) => {
      const tx = transaction as unknown as Db;
      await tx.execute(sql`set local session_replication_role = replica`);
      await tx.execute(sql.raw(change));
      if (entry) {
        await tx.execute(sql`set local timezone = 'UTC'`);
        found = await faultsOfTable(tx, entry);
      } else found = (await faultsOfSeals(tx)).faults;
      throw new Error("taken back");
    })
    .catch(() => undefined);
  return found;
}

describe("seals", () => {
  test("each value of each covered column of each table of evidence is found when it is another one", async () => {
    const missed: string[] = [];
    for (const entry of EVIDENCE) {
      const columns = await rows<{ name: string; type: string }>(
        w.database.db,
        sql`select column_name as name, data_type as type from information_schema.columns
          where table_schema = 'public' and table_name = ${entry.table}`,
      );
      const covered = await coveredColumns(w.database.db, entry);
      const unknown = Object.keys(entry.open ?? {}).filter(
        (c) => !columns.some((x) => x.name === c),
      );
      expect([entry.table, unknown]).toEqual([entry.table, []]);
      const [sealed] = await rows<{ key: string }>(
        w.database.db,
        sql`select key from sealed_row where "table" = ${entry.sealedAs ?? entry.table} limit 1`,
      );
      if (!sealed) {
        if (entry.table !== "invoice_match")
          missed.push(`${entry.table}: nothing of it was sealed`);
        continue;
      }
      const row = `ctid = (select t.ctid from "${entry.table}" t where ${entry.key} = '${sealed.key}')`;
      for (const { name, type } of columns.filter((c) => covered.includes(c.name))) {
        const faults = await faultsAfter(
          `update "${entry.table}" set "${name}" = ${other(type, name)} where ${row}`,
          entry,
        );
        if (faults.length === 0) missed.push(`${entry.table}.${name}`);
      }
      const gone = await faultsAfter(`delete from "${entry.table}" where ${row}`, entry);
      if (gone.length === 0) missed.push(`${entry.table}: a row that is gone`);
    }
    expect(missed).toEqual([]);
    // What is not covered is said with its reason, and short.
    expect(EVIDENCE.flatMap((e) => Object.keys(e.open ?? {})).length).toBeLessThan(48);
  }, 300_000);

  test("a last journal that is taken out whole, and a seal made anew over it, are found", async () => {
    await again();
    expect((await seal())!.no).toBe(2);
    expect((await faultsOfSeals(w.database.db)).faults).toEqual([]);
    expect(await seal()).toBeNull();
    const last = "(select max(id) from journal where company_id = 1)";
    expect(
      await faultsAfter(
        `with gone as (delete from journal where id = ${last} returning id)
          delete from journal_line where journal_id in (select id from gone)`,
      ),
    ).toEqual([expect.stringMatching(/Journal \d+ of ALP, sealed by 2, is not there/)]);
    expect(
      await faultsAfter(
        "update sealed_row r set hash = repeat('0', 64) where \"table\" = 'payment'",
      ),
    ).not.toEqual([]);
    expect(await faultsAfter("update seal set heads = '[]'::jsonb where no = 2")).not.toEqual([]);
  });

  test("whoever keeps the signed files finds what was cut off or made anew by somebody with the database", async () => {
    const kept = keptSeals(place);
    const key = publicKeyOf(place)!;
    expect(kept.map((s) => s.no)).toEqual([1, 2]);
    expect((await faultsOfSeals(w.database.db, kept, key)).faults).toEqual([]);
    // A forged file, by another key or with another digest.
    const forged = [{ ...kept[1]!, digest: "0".repeat(64) }];
    expect((await faultsOfSeals(w.database.db, forged, key)).faults).toHaveLength(1);
    let found: string[] = [];
    await w.database.db
      .transaction(async (transaction) => {
        const tx = transaction as unknown as Db;
        await tx.execute(sql`set local session_replication_role = replica`);
        for (const table of ["sealed_row", "seal_columns"])
          await tx.execute(sql.raw(`delete from ${table} where seal_no = 2`));
        await tx.execute(sql`delete from seal where no = 2`);
        // The database alone looks whole; the file says what is missing.
        expect((await faultsOfSeals(tx)).faults).toEqual([]);
        found = (await faultsOfSeals(tx, kept, key)).faults;
        throw new Error("taken back");
      })
      .catch((error: Error) => expect(error.message).toBe("taken back"));
    expect(found).toEqual([expect.stringMatching(/Seal 2 was signed and is not there/)]);
  });

  test("what was signed is never written over: books that lack a signed seal are not sealed on; one whose file is missing is signed again", async () => {
    const file = path.join(place.folder, "seal-000002.json");
    const signed = readFileSync(file, "utf8");
    // The process died between the books and the file.
    rmSync(file);
    await again();
    expect((await seal())!.no).toBe(3);
    expect(keptSeals(place).map((s) => s.no)).toEqual([1, 2, 3]);
    expect(JSON.parse(readFileSync(file, "utf8"))).toMatchObject({
      digest: (JSON.parse(signed) as { digest: string }).digest,
    });
    await w.database.db.transaction(async (tx) => {
      for (const table of ["sealed_row", "seal_columns", "seal"]) {
        await tx.execute(sql.raw(`alter table ${table} disable trigger user`));
        const column = table === "seal" ? "no" : "seal_no";
        await tx.execute(sql.raw(`delete from ${table} where ${column} = 3`));
        await tx.execute(sql.raw(`alter table ${table} enable trigger user`));
      }
    });
    await again();
    await expect(seal()).rejects.toThrow(/lack seal 3/);
    expect(keptSeals(place).map((s) => s.no)).toEqual([1, 2, 3]);
    // Books that were restored from a backup say so: the later seals are put aside, not lost.
    expect(putAside(place, 2)).toHaveLength(1);
    expect((await seal())!.no).toBe(3);
    expect((await faultsOfSeals(w.database.db, keptSeals(place))).faults).toEqual([]);
  });

  test("closing a period signs what is final by then, before the answer is given", async () => {
    await again();
    const before = keptSeals(place).length;
    sealHere(place);
    onTestFinished(() => sealHere(null));
    must(
      await switchPeriods(await callerOf(w.database, "root"), {
        company: "ALP",
        book: "IFRS",
        area: "payables",
        periods: ["2025-01"],
        to: "closed",
      }),
    );
    expect(keptSeals(place)).toHaveLength(before + 1);
    expect(
      keptSeals(place)
        .at(-1)!
        .heads.find((h) => h.company === "ALP")!.seq,
    ).toBe(
      (
        await rows<{ seq: string }>(
          w.database.db,
          sql`select max(j.seq)::text as seq from journal j
        join company c on c.id = j.company_id
        where c.code = 'ALP'`,
        )
      )[0]!.seq,
    );
  });
});
