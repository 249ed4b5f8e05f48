import { fail, ok } from "@/core/shared";
import { documentLinks, linkedCorrections } from "../documents";
import { defineCancel } from "../keptDocuments";
import { reverseJournals } from "../ledger";
import { undoMatches } from "../purchasing";
import { readStored } from "./checkInvoice";

/**
 * Cancels a posted invoice: its journals are reversed and its taxes taken back. One that is paid,
 * even in part, can't be before that is undone.
 */
export const cancelInvoice = defineCancel("cancelInvoice", {
  kind: "invoice",
  what: "cancel invoices",
  right: "reverse.payables",
  action: "cancelled",
  to: "reversed",
  read: readStored,
  label: ({ number }) => number ?? "",
  takeBack: async (context, id, { journalId }) => {
    const { tx } = context;
    const { correctedBy } = await linkedCorrections(context, id);
    if (correctedBy[0])
      return fail({
        code: "IN_USE",
        what: `${correctedBy[0].number} corrects it; cancel that first`,
      });
    const reversed = await reverseJournals(context, [journalId!], null);
    if (!reversed.ok) return reversed;
    const { id: reversal, number: journal, date } = reversed.value[0]!;
    await documentLinks(tx, "made", [[id, reversal]]);
    await undoMatches(context, id, { id: reversal, date });
    return ok({ id, journal, date });
  },
});
