import { saleInput } from "@/core/receivables";
import { dateText, type CalendarDate, type Result } from "@/core/shared";
import type { JournalDraft } from "@/core/ledger";
import { runAs, type Caller } from "@/server/access";
import { keepAndPostSales, sendSale } from "@/server/receivables";
import { postDrafts } from "@/server/ledger";
import type { PastJournal } from "./books";
import type { At } from "./buying";

type Must = <T>(result: Result<T>, what: string) => T;

/** Invoices from that day on have really gone out: their PDFs are in the mailbox. */
const SENT_FROM = "2026-10-20";

/** What is posted of the past, in its order: who, when, and what it was called. */
export class Past {
  journals = 0;
  lines = 0;
  private readonly marks = new Map<string, number>();
  /** What invoices are called, by the name that the telling has for them. */
  private readonly numbers = new Map<string, string>();

  constructor(
    private readonly poster: Caller,
    private readonly people: ReadonlyMap<string, number>,
    private readonly worksAt: At,
    private readonly must: Must,
    private readonly timeOf: (day: CalendarDate, after: number) => number,
  ) {}

  /** A month: week by week, its journals and then its invoices. */
  async post(month: readonly PastJournal[]): Promise<void> {
    let clock = 0;
    for (const week of weeksOf(month)) {
      const journals = week.filter((p) => !p.sale);
      const times = journals.map((p) => (clock = this.timeOf(p.postedOn, clock)));
      if (journals.length > 0) await this.postJournals(journals, times);
      await this.invoices(week.filter((p) => p.sale));
    }
  }

  private async postJournals(batch: readonly PastJournal[], times: readonly number[]) {
    const drafts = batch.map((p): JournalDraft => {
      const reverses = p.reversesMark === undefined ? undefined : this.marks.get(p.reversesMark);
      const draft = this.withNumbers(p.draft);
      return reverses === undefined ? draft : { ...draft, reverses };
    });
    const by = batch.map((p) => this.people.get(p.by)!);
    const done = this.must(
      await runAs(this.poster, (context) =>
        postDrafts(context, drafts, {
          preparedBy: by,
          postedBy: by,
          postedAt: times.map((t) => new Date(t)),
        }),
      ),
      batch[0]!.postedOn,
    );
    batch.forEach((p, i) => p.mark && this.marks.set(p.mark, done[i]!.id));
    this.journals += done.length;
    this.lines += drafts.reduce((n, d) => n + d.lines.length, 0);
  }

  /** Written, posted and, the latest of them, sent by the clerk of receivables. */
  private async invoices(week: readonly PastJournal[]) {
    if (week.length === 0) return;
    const clerk = await this.worksAt("receivables", week.at(-1)!.postedOn, 11);
    const posted = this.must(
      await runAs(clerk, (context) =>
        keepAndPostSales(
          context,
          week.map(({ sale }) =>
            saleInput({ ...sale!.content, date: dateText(sale!.content.date!) }),
          ),
        ),
      ),
      week[0]!.sale!.called,
    );
    for (const [i, { postedOn, sale }] of week.entries()) {
      const { id, number } = posted[i]!;
      this.numbers.set(sale!.called, number);
      this.journals += 1;
      this.lines += sale!.content.lines.length + 2;
      if (postedOn >= SENT_FROM)
        this.must(await sendSale(await this.worksAt("receivables", postedOn, 12), { id }), number);
    }
  }

  /** What was paid names its invoice by the number that it has. */
  private withNumbers(draft: JournalDraft): JournalDraft {
    return {
      ...draft,
      lines: draft.lines.map((l) => {
        const called = l.item?.reference;
        const number = called === undefined ? undefined : this.numbers.get(called);
        if (number === undefined) return l;
        return {
          ...l,
          description: l.description.replace(called!, number),
          item: { ...l.item!, reference: number },
        };
      }),
    };
  }
}

/** Where invoices stand among them, a month is told by weeks, so that none is paid before it is written. */
function weeksOf(month: readonly PastJournal[]): PastJournal[][] {
  if (!month.some((p) => p.sale)) return [[...month]];
  const week = (p: PastJournal) => Math.min(3, Math.floor((Number(p.postedOn.slice(8)) - 1) / 7));
  return [0, 1, 2, 3].map((n) => month.filter((p) => week(p) === n));
}
