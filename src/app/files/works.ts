import "server-only";
import type { Result } from "@/core/shared";
import { refusedUnread, type Caller, type Person, type UseCase } from "@/server/access";
import { takeOverAssets } from "@/server/assets";
import { loadJournals, loadOpening } from "@/server/ledger";
import { loadChart, loadDimensionValues } from "@/server/organisation";
import { loadBanks, loadCardPayments } from "@/server/banks";
import { loadContacts, loadPartners } from "@/server/partners";
import { loadEInvoice, loadInvoices } from "@/server/payables";
import { loadRates } from "@/server/rates";
import { loadMandates, loadReceipts, loadSales } from "@/server/receivables";
import { readOutside, readOutsideJson } from "@/server/files";
import type { FileWork } from "@/app/lib/sendFile";

interface Sent {
  name: string;
  bytes: Uint8Array;
  query: URLSearchParams;
}

/** What can be done with a file: who may, asked before it is read, and what is then answered. */
interface Work {
  refused(person: Person, query: URLSearchParams): Result<never> | null;
  /** A result, or the JSON of an answer that is passed on as it was made. */
  take(caller: Caller, sent: Sent): Promise<Result<unknown> | Uint8Array>;
}

const refusedIn = (work: UseCase): Work["refused"] => {
  return (person, query) => refusedUnread(work, person, query.get("company") ?? undefined);
};

/** Rows of a table to a use case that checks them or takes them in. */
const table = (work: UseCase, named: readonly string[] = []): Work => ({
  refused: refusedIn(work),
  take: async (caller, { name, bytes, query }) => {
    const rows = await readOutside("table", name, bytes);
    if (!rows.ok) return rows;
    const input = {
      rows: rows.value,
      take: query.get("take") === "1",
      confirmed: query.get("confirmed") === "1",
      ...Object.fromEntries(named.map((n) => [n, query.get(n) ?? ""])),
    };
    return work(caller, input);
  },
});

const OK = '{"ok":true';

/** A table as it stands, for looking at before anything is stored: passed on as it was read. */
const cells: Work = {
  refused: refusedIn(loadJournals),
  take: async (_caller, { name, bytes }) => {
    const said = await readOutsideJson("cells", name, bytes);
    const isRead = new TextDecoder().decode(said.subarray(0, OK.length)) === OK;
    return isRead ? said : (JSON.parse(new TextDecoder().decode(said)) as Result<never>);
  },
};

const eInvoice: Work = {
  refused: refusedIn(loadEInvoice),
  take: async (caller, { bytes, query }) => {
    const content = Buffer.from(bytes).toString("base64");
    const input = { company: query.get("company") ?? "", content };
    return loadEInvoice(caller, input);
  },
};

export const WORKS: Record<FileWork, Work> = {
  cells,
  "e-invoice": eInvoice,
  invoices: table(loadInvoices, ["company"]),
  chart: table(loadChart),
  values: table(loadDimensionValues, ["dimension"]),
  opening: table(loadOpening, ["company", "date"]),
  rates: table(loadRates),
  partners: table(loadPartners, ["role"]),
  contacts: table(loadContacts),
  mandates: table(loadMandates, ["company"]),
  banks: table(loadBanks),
  "card-payments": table(loadCardPayments, ["company", "bank", "date", "kind"]),
  receipts: table(loadReceipts, ["company", "bank"]),
  sales: table(loadSales, ["company"]),
  assets: table(takeOverAssets, ["company", "date"]),
};
