import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { MAX_E_INVOICE } from "@/core/trade/eInvoice/words";
import type { LoadedEInvoice } from "@/server/payables";
import { sendFile } from "@/app/lib/sendFile";
import { sendPaper } from "@/app/papers/sendPaper";
import { useWork } from "@/ui/frame/work";
import { beginInvoiceAction, removeInvoiceDraftAction } from "./actions";

/**
 * Begins invoices with their papers: an e-invoice in UBL becomes a draft with all that it says, any
 * other paper lies beside an empty one. A single one is opened, so that one types beside it.
 */
export function useInvoicePapers(): (files: readonly File[]) => Promise<void> {
  const work = useWork();
  const router = useRouter();
  const { company } = work.place;
  const begin = (file: File) =>
    file.name.toLowerCase().endsWith(".xml")
      ? fromMessage(file, company)
      : besidePaper(file, company, work.today);
  return async (files) => {
    const made: number[] = [];
    for (const file of files) {
      const id = await begin(file);
      if (id !== null) made.push(id);
    }
    if (made.length === 1)
      return router.push(work.link(`/payables/invoices/${made[0]}`, { papers: "1" }));
    if (made.length > 0) toast.success(`${made.length} drafts, each with its paper.`);
    router.refresh();
  };
}

async function fromMessage(file: File, company: string): Promise<number | null> {
  if (file.size > MAX_E_INVOICE) return failed(`${file.name} is larger than an e-invoice may be.`);
  const result = await sendFile<LoadedEInvoice>("e-invoice", file, { company });
  if (!result.ok) return failed(`${file.name}: ${result.message}`);
  const { doubts, supplier, id } = result.value;
  if (doubts.length > 0) toast.warning(`The paper has to be decided on: ${doubts.join(" ")}`);
  toast.success(supplier ? `A draft of ${supplier}.` : "A draft; say which supplier it is from.");
  return id;
}

async function besidePaper(file: File, company: string, today: string): Promise<number | null> {
  const begun = await beginInvoiceAction(company, today).catch(() => null);
  if (!begun?.ok) return failed(`${file.name}: ${begun?.message ?? "the server did not answer."}`);
  const { id, version } = begun.value;
  const refused = await sendPaper({ document: id }, file);
  if (refused === null) return id;
  // A draft without its paper is not what was asked for.
  await removeInvoiceDraftAction(id, version).catch(() => null);
  return failed(refused);
}

function failed(message: string): null {
  toast.error(message);
  return null;
}
