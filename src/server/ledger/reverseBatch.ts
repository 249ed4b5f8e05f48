import { sql } from "drizzle-orm";
import { ok } from "@/core/shared";
import { rows } from "../db";
import { defineCancel } from "../keptDocuments";
import { readBatch } from "./batchViews";
import { reverseJournals } from "./reversals";

/** Reverses every journal of a posted batch that stands, all or none. */
export const reverseBatch = defineCancel("reverseBatch", {
  kind: "batch",
  what: "reverse batches",
  right: "reverse.ledger",
  action: "reversed",
  to: "reversed",
  read: readBatch,
  label: ({ name }) => name,
  takeBack: async (context, id) => {
    const standing = await rows<{ id: bigint }>(
      context.tx,
      sql`select l.to_id as id from document_link l
        where l.from_id = ${id} and l.kind = 'batch' and not exists (select 1 from journal r
        where r.reverses_id = l.to_id) order by l.to_id`,
    );
    const reversed = await reverseJournals(
      context,
      standing.map((s) => Number(s.id)),
      null,
    );
    return reversed.ok ? ok({ journals: reversed.value.map((r) => r.number) }) : reversed;
  },
});
