import { createHash, sign, verify as verifySignature, type KeyObject } from "node:crypto";
import { sql, type SQL } from "drizzle-orm";
import { arrayOf, rows, type Database, type Db } from "../db";
import { EVIDENCE, type EvidenceTable } from "./tables";

/** What is signed and kept outside the database: enough to prove what came before it. */
export interface Seal {
  /** Counts from 1. */
  no: number;
  /** Instant, UTC. */
  at: string;
  /** Digest of the seal before; "" of the first. */
  previous: string;
  /** SHA-256 over all that this seal adds, and over the seal before it. */
  digest: string;
  /** Rows that it adds. */
  rows: number;
  /** Where each company's chain of journals stood. */
  heads: { company: string; seq: string; hash: string }[];
}
export interface SignedSeal extends Seal {
  /** Ed25519 over the digest, base64. */
  signature: string;
  /** The public key that it is checked with, as PEM. */
  key: string;
}

const sha256 = (text: string): string => createHash("sha256").update(text).digest("hex");

/** The columns of a table that are covered, in order. */
export async function coveredColumns(
  tx: Db,
  { table, open = {} }: EvidenceTable,
): Promise<string[]> {
  const found = await rows<{ name: string }>(
    tx,
    sql`select column_name as name from information_schema.columns
      where table_schema = 'public' and table_name = ${table} order by column_name`,
  );
  return found.map((f) => f.name).filter((name) => !(name in open));
}

/**
 * The hash of a row over some of its columns. Names and values go in, as JSON with its keys in
 * order; instants in UTC. A column that is added to the table later changes no hash.
 */
const rowHash = (columns: SQL, row: SQL = sql`to_jsonb(t)`): SQL => sql`encode(sha256(convert_to((
  select jsonb_object_agg(e.key, e.value)::text from jsonb_each(${row}) e
  where e.key = any(${columns})), 'UTF8')), 'hex')`;

const at = (name: string): SQL => sql.raw(`"${name}"`);

/**
 * Notes of all evidence that has become final since the last seal what it says, as hashes, and
 * closes them with a digest that carries the one before. Null where nothing was added.
 */
export async function makeSeal(database: Database, now: Date): Promise<Seal | null> {
  return database.db.transaction(async (transaction) => {
    const tx = transaction as unknown as Db;
    await tx.execute(sql`set local timezone = 'UTC'`);
    // One at a time, and nobody posts meanwhile.
    await tx.execute(sql`lock table seal in exclusive mode`);
    await tx.execute(sql`select 1 from chain order by company_id for update`);
    const [last] = await rows<{ no: number; digest: string; heads: string }>(
      tx,
      sql`select no, digest, heads::text as heads from seal order by no desc limit 1`,
    );
    const no = (last?.no ?? 0) + 1;
    let added = 0;
    for (const entry of EVIDENCE) {
      const columns = await coveredColumns(tx, entry);
      const [count] = await rows<{ n: number }>(
        tx,
        sql`with taken as (insert into sealed_row (seal_no, "table", key, hash)
            select ${no}::int, ${sealedAs(entry)}, ${sql.raw(entry.key)},
              ${rowHash(sql`${arrayOf(columns)}::text[]`)}
            from ${at(entry.table)} t
            where ${sql.raw(entry.final ?? "true")} and not exists (select 1 from sealed_row s
              where s."table" = ${sealedAs(entry)} and s.key = ${sql.raw(entry.key)})
            returning 1)
          select count(*)::int as n from taken`,
      );
      if (count!.n > 0)
        await tx.execute(
          sql`insert into seal_columns (seal_no, "table", columns)
            values (${no}, ${sealedAs(entry)}, ${arrayOf(columns)}::text[])`,
        );
      added += count!.n;
    }
    const heads = await rows<Seal["heads"][number]>(
      tx,
      sql`select k.code as company, c.seq::text as seq, c.hash from chain c
        join company k on k.id = c.company_id order by k.code`,
    );
    const written = JSON.stringify(heads);
    if (added === 0 && last && headsText(last.heads) === written) return null;
    const previous = last?.digest ?? "";
    const digest = digestOf(no, previous, written, (await contentsOf(tx, no))[0]);
    await tx.execute(
      sql`insert into seal (no, at, previous, digest, rows, heads)
        values (${no}, ${now.toISOString()}, ${previous}, ${digest}, ${added}, ${written}::jsonb)`,
    );
    return { no, at: now.toISOString(), previous, digest, rows: added, heads };
  });
}

/** The seals of the books, oldest first. */
export async function readSeals(tx: Db): Promise<Seal[]> {
  const found = await rows<Omit<Seal, "heads"> & { heads: string }>(
    tx,
    sql`select no, at, previous, digest, rows, heads::text as heads from seal order by no`,
  );
  return found.map((s) => ({
    ...s,
    at: new Date(s.at).toISOString(),
    heads: JSON.parse(headsText(s.heads)) as Seal["heads"],
  }));
}

/** Heads as they are hashed: a JSON column gives its keys back in an order of its own. */
const headsText = (kept: string): string =>
  JSON.stringify(
    (JSON.parse(kept) as Seal["heads"]).map(({ company, seq, hash }) => ({ company, seq, hash })),
  );

/** What seals are made of beside their heads: a hash of their rows, and the columns in words. */
interface Content {
  no: number;
  rows: string | null;
  columns: string | null;
}

/** The contents of all seals, or of one: rows in the order of their names. */
const contentsOf = (tx: Db, no?: number): Promise<Content[]> =>
  rows<Content>(
    tx,
    sql`with sealed as (select s.seal_no as no, encode(sha256(convert_to(string_agg(
            s."table" || ' ' || s.key || ' ' || s.hash, chr(10)
            order by s."table" collate "C", s.key collate "C"), 'UTF8')), 'hex') as rows
          from sealed_row s where ${no === undefined ? sql`true` : sql`s.seal_no = ${no}`} group by 1),
        covered as (select c.seal_no as no, string_agg(c."table" || ' ' ||
            array_to_string(c.columns, ','), chr(10) order by c."table" collate "C") as columns
          from seal_columns c where ${no === undefined ? sql`true` : sql`c.seal_no = ${no}`} group by 1)
      select no, s.rows, c.columns from sealed s full join covered c using (no)`,
  );

const NOTHING = { rows: null, columns: null };

/** The digest of a seal: of the one before, the heads, and its content. */
const digestOf = (
  no: number,
  previous: string,
  heads: string,
  { rows: content, columns }: Pick<Content, "rows" | "columns"> = NOTHING,
): string => sha256([String(no), previous, heads, columns ?? "", content ?? ""].join("\n"));

export const signSeal = (seal: Seal, key: KeyObject, publicKey: string): SignedSeal => ({
  ...seal,
  signature: sign(null, Buffer.from(seal.digest), key).toString("base64"),
  key: publicKey,
});

const signatureHolds = ({ digest, signature }: SignedSeal, key: string | KeyObject): boolean => {
  try {
    return verifySignature(null, Buffer.from(digest), key, Buffer.from(signature, "base64"));
  } catch {
    return false;
  }
};

/** The name of a table in the seals: the one that it had when it was first sealed. */
const sealedAs = ({ table, sealedAs: name }: EvidenceTable): string => name ?? table;

const NAMED = 20;

/** Whether a row says what was sealed, but for what a migration has changed in it. */
function asMigrated({ migrated }: EvidenceTable): SQL {
  if (!migrated) return sql`false`;
  const { column, now, was } = migrated;
  const before = JSON.stringify({ [column]: was });
  return sql`coalesce(t.${at(column)} = ${now}
    and ${rowHash(sql`c.columns`, sql`to_jsonb(t) || ${before}::jsonb`)} = s.hash, false)`;
}

/** Rows of one table that say another thing than when they were sealed, or are gone. */
export async function faultsOfTable(tx: Db, entry: EvidenceTable): Promise<string[]> {
  const found = await rows<{ key: string; seal: number; gone: boolean }>(
    tx,
    // Joined as a whole: looking each row up by its name would read the table once for each.
    sql`select s.key, s.seal_no as seal, t is null as gone
      from sealed_row s join seal_columns c on c.seal_no = s.seal_no and c."table" = s."table"
        left join ${at(entry.table)} t on ${sql.raw(entry.key)} = s.key
      where s."table" = ${sealedAs(entry)}
        and (t is null or ${rowHash(sql`c.columns`)} is distinct from s.hash)
        and not ${asMigrated(entry)} limit ${NAMED}`,
  );
  return found.map(
    (f) =>
      `${entry.table} ${f.key}, sealed by ${f.seal}, ${f.gone ? "is gone" : "says another thing"}`,
  );
}

/**
 * What of the evidence is no longer what it was when it was sealed: seals that do not follow from
 * each other or from their rows, rows that say another thing or are gone, chains of journals that
 * no longer hold a head. With seals from outside the database, also those that were cut off or
 * made anew; `key` is the public key that they have to be signed with.
 */
export const faultsOfSeals = (
  db: Db,
  outside: readonly SignedSeal[] = [],
  key?: string,
): Promise<{ looked: number; faults: string[] }> =>
  db.transaction((tx) => lookAtSeals(tx as unknown as Db, outside, key));

async function lookAtSeals(
  tx: Db,
  outside: readonly SignedSeal[],
  key: string | undefined,
): Promise<{ looked: number; faults: string[] }> {
  const faults: string[] = [];
  await tx.execute(sql`set local timezone = 'UTC'`);
  const seals = await readSeals(tx);
  const contents = new Map((await contentsOf(tx)).map((c) => [c.no, c]));
  let before = "";
  for (const [i, s] of seals.entries()) {
    const digest = digestOf(s.no, s.previous, JSON.stringify(s.heads), contents.get(s.no));
    if (s.no !== i + 1 || s.previous !== before || s.digest !== digest)
      faults.push(`Seal ${s.no} does not follow from what it sealed`);
    before = s.digest;
  }
  const lost = await rows<{ no: number; company: string; seq: string }>(
    tx,
    sql`select s.no, h->>'company' as company, h->>'seq' as seq
      from seal s cross join jsonb_array_elements(s.heads) h
        left join company k on k.code = h->>'company'
        left join journal j on j.company_id = k.id and j.seq = (h->>'seq')::bigint
      where h->>'seq' <> '0' and j.hash is distinct from h->>'hash' order by s.no limit ${NAMED}`,
  );
  faults.push(
    ...lost.map((l) => `Journal ${l.seq} of ${l.company}, sealed by ${l.no}, is not there`),
  );
  let looked = 0;
  for (const entry of EVIDENCE) {
    faults.push(...(await faultsOfTable(tx, entry)));
    const [count] = await rows<{ n: number }>(
      tx,
      sql`select count(*)::int as n from sealed_row where "table" = ${entry.table}`,
    );
    looked += count!.n;
  }
  const digests = new Map(seals.map((s) => [s.no, s.digest]));
  for (const s of outside) {
    if (!signatureHolds(s, key ?? s.key))
      faults.push(`The file of seal ${s.no} is not signed by us`);
    else if (digests.get(s.no) !== s.digest)
      faults.push(
        digests.has(s.no)
          ? `Seal ${s.no} is another one than was signed`
          : `Seal ${s.no} was signed and is not there: what came after it was cut off`,
      );
  }
  return { looked, faults: faults.slice(0, NAMED) };
}
