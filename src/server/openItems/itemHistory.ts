import { sql } from "drizzle-orm";
import { number, object } from "yup";
import type { ItemControl } from "@/core/ledger";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows } from "../db";
import { rightOn } from "./openItems";

export interface ItemHistory {
  id: number;
  kind: string;
  date: CalendarDate;
  by: string;
  at: string;
  amount: Minor;
  with: { reference: string; number: string; journalId: number }[];
  journal: { id: number; number: string } | null;
  mayUndo: boolean;
}

/** What was set against an item, and what was taken back. */
export const itemHistory = defineUseCase({
  name: "itemHistory",
  kind: "read",
  rights: ["read.payables", "read.receivables", "read.banks"],
  what: "see open items",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<ItemHistory[]>> => {
    const [item] = await rows<{ area: ItemControl; company: string }>(
      context.tx,
      sql`select i.area, c.code as company from open_item i join company c on c.id = i.company_id
        where i.id = ${input.id}`,
    );
    if (!item) return fail({ code: "NOT_FOUND", what: "such open item" });
    if (!context.may(rightOn("read", item.area), item.company))
      return fail({ code: "FORBIDDEN", what: "see this open item" });
    const found = await rows<{
      id: bigint;
      kind: string;
      date: string;
      by: string;
      at: string;
      amount: bigint;
      with: { reference: string; number: string; journalId: number }[] | null;
      journal: { id: number; number: string } | null;
      undone: boolean;
    }>(
      context.tx,
      sql`select a.id, a.kind, a.date, p.name as by, a.made_at as at, l.amount,
        (select jsonb_build_object('id', j.id, 'number', j.number) from journal j
        where j.id = a.journal_id) as journal, exists (select 1 from allocation u
        where u.undoes_id = a.id) or a.undoes_id is not null as undone,
            (select jsonb_agg(jsonb_build_object('reference', o.reference, 'number', j.number,
              'journalId', j.id)) from allocation_line m join open_item o on o.id = m.item_id
              join journal j on j.id = o.journal_id
              where m.allocation_id = a.id and m.item_id <> l.item_id) as "with"
          from allocation_line l join allocation a on a.id = l.allocation_id
            join person p on p.id = a.made_by where l.item_id = ${input.id} order by a.id`,
    );
    return ok(
      found.map(({ undone, ...f }) => ({
        ...f,
        id: Number(f.id),
        amount: minor(f.amount),
        with: f.with ?? [],
        mayUndo:
          !undone &&
          ["by hand", "netting", "restatement"].includes(f.kind) &&
          context.may(rightOn("post", item.area), item.company),
      })),
    );
  },
});
