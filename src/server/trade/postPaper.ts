import { sql } from "drizzle-orm";
import { convertBy, type Conversion } from "@/core/rates";
import { ok, type Result } from "@/core/shared";
import type { PaperReading } from "@/core/trade";
import type { TaxDirection } from "@/core/taxes";
import type { Context } from "../access";
import { rows } from "../db";
import { documentLinks } from "../documents";
import { linkJournals, postDrafts } from "../ledger";
import { recordTaxes } from "../taxes";
import type { CheckedPaper } from "./checkPapers";

/** A trade document that is posted, once nothing stands against it. */
interface ToPost extends Pick<CheckedPaper, "drafts"> {
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

/** Posts the journals of a trade document, links them with it, and records its taxes. */
export async function postPaper(context: Context, paper: ToPost): Promise<Result<PostedPaper>> {
  const { tx, masters } = context;
  const { id, drafts, reading } = paper;
  const posted = await postDrafts(
    context,
    drafts.map((d) => ({ ...d.draft, origin: id })),
  );
  if (!posted.ok) return posted;
  const journals = posted.value.slice(0, drafts.length);
  const first = journals[0]!;
  await linkJournals(
    tx,
    journals.map((j) => j.id),
  );
  await documentLinks(
    tx,
    "made",
    journals.map((j) => [id, j.id] as const),
  );
  const [journal] = await rows<{ year: { id: number; name: string }; seq: bigint }>(
    tx,
    sql`select json_build_object('id', y.id, 'name', y.name) as year, j.seq from journal j
      join fiscal_year y on y.id = j.year_id where j.id = ${first.id}`,
  );
  const company = masters.companyByCode.get(paper.company)!;
  const rate: Conversion = drafts[0]!.rate ? { rate: drafts[0]!.rate.rate } : "same";
  await recordTaxes(tx, [
    {
      document: {
        id,
        companyId: company.id,
        direction: paper.direction,
        journal: { id: first.id, seq: journal!.seq },
        date: reading.date,
        reportedOn: paper.reportedOn,
        currency: reading.currency,
        sign: paper.kind === "credit note" ? -1n : 1n,
        functional: (amount) => convertBy(amount, reading.currency, company.currency, rate),
      },
      taxes: reading.taxes,
    },
  ]);
  return ok({ journals, ...journal! });
}
