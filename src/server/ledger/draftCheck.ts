import {
  codingFromKey,
  dimensionsOf,
  preparePostings,
  type DraftLine,
  type Effect,
  type JournalInput,
} from "@/core/ledger";
import { minor, type Minor } from "@/core/shared";
import { type Context } from "../access";
import { ruleFor, whyOf } from "./approvalRules";
import { effectIn } from "./effect";
import { showProblem, type Prepared, type ShownProblem } from "./entries";

/** A line as posting would write it, with what the system adds. */
export interface PreviewLine {
  account: string;
  name: string;
  dimensions: Readonly<Record<string, string>>;
  description: string;
  side: "debit" | "credit";
  amount: Minor;
  foreignAmount: Minor | null;
  added: DraftLine["added"] | null;
}
/** The journal that one company would get. */
export interface Preview {
  company: string;
  companyName: string;
  currency: string;
  foreign: string | null;
  rate: { rate: string; how: string } | null;
  lines: PreviewLine[];
}

export interface DraftCheck {
  problems: ShownProblem[];
  /** In the currency of the journal. */
  debits: Minor;
  credits: Minor;
  currency: string;
  /**
   * What would be posted, where that is more than what was typed: several companies, a foreign
   * currency, lines that are added.
   */
  previews: Preview[];
  /** What posting would do, by company; empty while the period is not known. */
  effects: Effect[];
  /** Who has to approve it, in a sentence; null where nobody has to. */
  approval: string | null;
}

/** What there is to say of a journal while it is written: problems, sums, what it would do. */
export async function checkOf(
  context: Context,
  _content: JournalInput,
  { reading: { entry }, posting, check: { drafts, problems } }: Prepared,
): Promise<DraftCheck> {
  const { masters, tx } = context;
  const sideSum = (side: "debit" | "credit") =>
    minor(entry.lines.reduce((total, l) => (l.side === side ? total + l.amount : total), 0n));
  const balancing = masters.dimensions.some((d) => d.balancing === "add");
  const prepared =
    balancing && problems.length === 0
      ? preparePostings(
          drafts.map((d) => d.draft),
          posting,
        )
      : null;
  const previews = drafts.map(({ draft, rate }, i): Preview => {
    const company = masters.companyByCode.get(draft.company)!;
    const added: PreviewLine[] = prepared?.ok
      ? prepared.value[i]!.lines.slice(draft.lines.length).map((l) => ({
          account: l.account.number,
          name: l.account.name,
          dimensions: dimensionsOf(codingFromKey(l.coding), masters),
          description: l.description,
          side: l.side,
          amount: l.amount,
          foreignAmount: draft.currency ? l.foreignAmount : null,
          added: l.added,
        }))
      : [];
    return {
      company: company.code,
      companyName: company.name,
      currency: company.currency,
      foreign: draft.currency ?? null,
      rate,
      lines: [
        ...draft.lines.map((l): PreviewLine => ({
          account: l.account,
          name: masters.accountByNumber.get(l.account)?.name ?? "",
          dimensions: l.dimensions,
          description: l.description,
          side: l.side,
          amount: l.amount,
          foreignAmount: l.foreignAmount ?? null,
          added: l.added ?? null,
        })),
        ...added,
      ],
    };
  });
  const effects: Effect[] = [];
  for (const { draft } of drafts) {
    const company = masters.companyByCode.get(draft.company)!;
    const period = posting.periods.find(
      (p) =>
        p.companyId === company.id && !p.adjustment && p.start <= draft.date && draft.date <= p.end,
    );
    const book = draft.book ? masters.bookByCode.get(draft.book) : masters.mainBook;
    if (period)
      effects.push(await effectIn(tx, masters, company.id, book?.id ?? 1, period, draft.lines));
  }
  const [rule] = await ruleFor(context, [entry]);
  return {
    approval: rule ? whyOf(rule) : null,
    problems: problems.map(showProblem),
    debits: sideSum("debit"),
    credits: sideSum("credit"),
    currency: entry.currency,
    effects,
    previews:
      previews.length > 1 || previews.some((p) => p.foreign || p.lines.some((l) => l.added))
        ? previews
        : [],
  };
}
