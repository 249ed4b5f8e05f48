import { createHash } from "node:crypto";
import { mkdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { sql } from "drizzle-orm";
import { writeWhole } from "../disk";
import type { Db } from "./database";

export class DatabaseTooNew extends Error {}

interface Migration {
  tag: string;
  statements: string[];
  hash: string;
}

/** The project's folder: the application is always started in it. */
const folderOf = (): string => path.join(process.cwd(), "migrations");

function readMigrations(): Migration[] {
  const journal = JSON.parse(
    readFileSync(path.join(folderOf(), "meta", "_journal.json"), "utf8"),
  ) as { entries: { tag: string }[] };
  return journal.entries.map(({ tag }) => {
    const text = readFileSync(path.join(folderOf(), `${tag}.sql`), "utf8");
    return {
      tag,
      statements: text.split("--> statement-breakpoint"),
      hash: createHash("sha256").update(text).digest("hex"),
    };
  });
}

/**
 * Brings the schema up to date in one transaction, after a backup where there is something to lose.
 * Several processes may start on one server at once: the first migrates, the others wait and find
 * it done.
 * Throws DatabaseTooNew where the database was written by a later version of the application.
 */
export async function migrateDatabase(
  db: Db,
  kind: "embedded" | "server",
  backup?: { folder: string; dump: () => Promise<Blob> },
): Promise<void> {
  const migrations = readMigrations();
  const known = new Set(migrations.map((m) => m.tag));
  const applied = await appliedTags(db);
  const unknown = applied.filter((tag) => !known.has(tag));
  if (unknown.length > 0)
    throw new DatabaseTooNew(
      `This database was written by a newer version of Yellow Anchor (it has ${unknown.join(", ")}). Start that version, or restore a backup made with this one.`,
    );
  if (applied.length === migrations.length) return;
  if (backup && applied.length > 0) {
    mkdirSync(path.join(backup.folder, "backups"), { recursive: true });
    const file = path.join(
      backup.folder,
      "backups",
      `before-${migrations[applied.length]!.tag}.tar.gz`,
    );
    writeWhole(file, Buffer.from(await (await backup.dump()).arrayBuffer()));
  }
  await db.transaction(async (tx) => {
    if (kind === "server") await tx.execute(sql`select pg_advisory_xact_lock(7219004)`);
    await tx.execute(
      sql`create table if not exists migration (tag text primary key, hash text not null,
        at timestamptz not null default now())`,
    );
    const done = new Set(await appliedTags(tx as unknown as Db));
    for (const migration of migrations.filter((m) => !done.has(m.tag))) {
      for (const statement of migration.statements)
        if (statement.trim()) await tx.execute(sql.raw(statement));
      await tx.execute(
        sql`insert into migration (tag, hash) values (${migration.tag}, ${migration.hash})`,
      );
    }
  });
}

async function appliedTags(db: Db): Promise<string[]> {
  const exists = (await db.execute(
    sql`select to_regclass('public.migration') is not null as there`,
  )) as unknown as { rows: { there: boolean }[] };
  if (!exists.rows[0]?.there) return [];
  const found = (await db.execute(sql`select tag from migration order by tag`)) as unknown as {
    rows: { tag: string }[];
  };
  return found.rows.map((r) => r.tag);
}
