import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { firstOpenDay, type ItemControl } from "@/core/ledger";
import { fail, minor, ok, type Result } from "@/core/shared";
import { defineUseCase, lockChains } from "../access";
import { rows } from "../db";
import { dayOfReversal, reverseJournals } from "../ledger";
import { loadPeriods } from "../organisation";
import { rightOn } from "./openItems";
import { releaseItems } from "./settleTogether";
import { knownAt, storeLines } from "./storeAllocation";

/**
 * Takes an allocation back: its items are open again, and the journal of its difference is
 * reversed.
 */
export const undoAllocation = defineUseCase({
  name: "undoAllocation",
  kind: "write",
  rights: ["post.payables", "post.receivables", "post.banks"],
  what: "undo settlements",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, person, now, masters } = context;
    const [place] = await rows<{ companyId: number }>(
      tx,
      sql`select company_id as "companyId" from allocation where id = ${input.id}`,
    );
    if (!place) return fail({ code: "NOT_FOUND", what: "such settlement" });
    const company = masters.companyById.get(place.companyId)!;
    // Held before it is read: of two people who undo the same, the second finds it undone.
    await lockChains(tx, [company.code]);
    const [found] = await rows<{
      kind: string;
      date: string;
      journalId: bigint | null;
      undone: boolean;
      area: ItemControl;
      undoes: bigint | null;
    }>(
      tx,
      sql`select a.kind, a.date, a.journal_id as "journalId", a.undoes_id as undoes,
        exists (select 1 from allocation u where u.undoes_id = a.id) as undone,
            (select i.area from allocation_line l join open_item i on i.id = l.item_id
              where l.allocation_id = a.id limit 1) as area from allocation a
              where a.id = ${input.id}`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such settlement" });
    if (!context.may(rightOn("post", found.area), company.code))
      return fail({ code: "FORBIDDEN", what: `undo settlements of ${company.name}` });
    if (found.undone || found.undoes !== null)
      return fail({ code: "IN_USE", what: "This settlement is undone already" });
    if (found.kind === "netting" || found.kind === "restatement") {
      const day = await dayOfReversal(context, Number(found.journalId));
      if (day === null) return fail({ code: "NO_OPEN_PERIOD_AFTER", date: found.date });
      await releaseItems(context, [{ id: Number(found.journalId), date: day }]);
      const reversed = await reverseJournals(context, [Number(found.journalId)], day);
      if (!reversed.ok) return reversed;
      await context.audit({
        action: "undone",
        kind: "open items",
        recordId: input.id,
        companyId: company.id,
      });
      return ok({ id: input.id });
    }
    if (found.kind !== "by hand")
      return fail({ code: "IN_USE", what: `It came with a ${found.kind}; reverse that instead` });
    let journalId: number | null = null;
    let date = found.date;
    if (found.journalId !== null) {
      const reversed = await reverseJournals(context, [Number(found.journalId)], null);
      if (!reversed.ok) return reversed;
      journalId = reversed.value[0]!.id;
      // Items and control account change on the same day.
      date = reversed.value[0]!.date;
    } else {
      const open = firstOpenDay(
        {
          periods: await loadPeriods(tx, [company.id], { areas: ["ledger"] }),
          bookIds: masters.books.map((b) => b.id),
        },
        date,
      );
      if (open === null) return fail({ code: "NO_OPEN_PERIOD_AFTER", date });
      date = open;
    }
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into allocation (company_id, kind, date, seq, journal_id, undoes_id, made_by,
        made_at) select company_id, 'undone', ${date}, seq, ${journalId}::bigint, ${input.id}::bigint,
        ${person.id}, ${knownAt(now)} from chain where company_id = ${company.id} returning id`,
    );
    const lines = await rows<{ item: bigint; amount: bigint; functional: bigint }>(
      tx,
      sql`select item_id as item, amount, functional from allocation_line where allocation_id = ${input.id}`,
    );
    await storeLines(
      context,
      made!.id,
      lines.map((l) => ({
        item: Number(l.item),
        amount: minor(-l.amount),
        functional: minor(-l.functional),
      })),
    );
    await context.audit({
      action: "undone",
      kind: "open items",
      recordId: input.id,
      companyId: company.id,
    });
    return ok({ id: Number(made!.id) });
  },
});
