import { sql } from "drizzle-orm";
import { convertBy, type Conversion } from "@/core/rates";
import { ok, type Result } from "@/core/shared";
import type { PaperReading } from "@/core/trade";
import type { TaxDirection } from "@/core/taxes";
import type { Context } from "../access";
import { arrayOf, rows } from "../db";
import { documentLinks } from "../documents";
import { linkJournals, postDrafts } from "../ledger";
import { recordTaxes } from "../taxes";
import type { CheckedPaper } from "./checkPapers";

/** A trade document that is posted, once nothing stands against it. */
export interface PaperToPost extends Pick<CheckedPaper, "drafts"> {
  /** Its identity in the register. */
  id: number;
  company: string;
  kind: "invoice" | "credit note";
  direction: TaxDirection;
  reading: PaperReading;
  /** A chosen day of the period in which its taxes are reported. */
  reportedOn: string | null;
}

export interface PostedPaper {
  /** Of its own company first; the others' behind it. */
  journals: { id: number; number: string }[];
  seq: bigint;
  year: { id: number; name: string };
}

/**
 * Posts the journals of trade documents, links them with them, and records their taxes; in a number
 * of statements that does not depend on how many they are.
 */
export async function postPapers(
  context: Context,
  papers: readonly PaperToPost[],
): Promise<Result<PostedPaper[]>> {
  const { tx, masters } = context;
  const posted = await postDrafts(
    context,
    papers.flatMap(({ id, drafts }) => drafts.map((d) => ({ ...d.draft, origin: id }))),
  );
  if (!posted.ok) return posted;
  let next = 0;
  const journals = papers.map(({ drafts }) =>
    posted.value.slice(next, (next += drafts.length)).map(({ id, number }) => ({ id, number })),
  );
  await linkJournals(
    tx,
    journals.map((own) => own.map((j) => j.id)),
  );
  await documentLinks(
    tx,
    "made",
    papers.flatMap((p, i) => journals[i]!.map((j) => [p.id, j.id] as const)),
  );
  const firsts = journals.map((own) => own[0]!.id);
  const found = await rows<{ id: bigint; year: { id: number; name: string }; seq: bigint }>(
    tx,
    sql`select j.id, json_build_object('id', y.id, 'name', y.name) as year, j.seq from journal j
      join fiscal_year y on y.id = j.year_id where j.id = any(${arrayOf(firsts)}::bigint[])`,
  );
  const byId = new Map(found.map(({ id, ...f }) => [Number(id), f]));
  const places = firsts.map((id) => byId.get(id)!);
  await recordTaxes(
    tx,
    papers.map((p, i) => ({
      document: taxedDocument(p, masters.companyByCode.get(p.company)!, {
        id: firsts[i]!,
        seq: places[i]!.seq,
      }),
      taxes: p.reading.taxes,
    })),
  );
  return ok(papers.map((_, i) => ({ journals: journals[i]!, ...places[i]! })));
}

export async function postPaper(
  context: Context,
  paper: PaperToPost,
): Promise<Result<PostedPaper>> {
  const posted = await postPapers(context, [paper]);
  return posted.ok ? ok(posted.value[0]!) : posted;
}

function taxedDocument(
  { id, kind, direction, drafts, reading, reportedOn }: PaperToPost,
  company: { id: number; currency: string },
  journal: { id: number; seq: bigint },
): Parameters<typeof recordTaxes>[1][number]["document"] {
  const rate: Conversion = drafts[0]!.rate ? { rate: drafts[0]!.rate.rate } : "same";
  return {
    id,
    companyId: company.id,
    direction,
    journal,
    date: reading.date,
    reportedOn,
    currency: reading.currency,
    sign: kind === "credit note" ? -1n : 1n,
    functional: (amount) => convertBy(amount, reading.currency, company.currency, rate),
  };
}
