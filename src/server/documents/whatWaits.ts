import { sql } from "drizzle-orm";
import { object } from "yup";
import { DOCUMENT_KINDS, type DocumentKind } from "@/core/documents";
import { runPages } from "@/core/runs";
import { ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";

/** What waits, by company and by the page on which it is decided. */
export type WhatWaits = Record<string, Record<string, number>>;

const LISTS = "/close/runs";

/** How many documents wait for a decision: for approval, on hold, or as a preview. */
export const whatWaits = defineUseCase({
  name: "whatWaits",
  kind: "read",
  rights: "signed-in",
  what: "see what waits",
  of: "self",
  schema: object(),
  run: async ({ tx, may }): Promise<Result<WhatWaits>> => {
    const found = await rows<{
      company: string;
      kind: DocumentKind;
      run: string | null;
      count: number;
    }>(
      tx,
      sql`select c.code as company, d.kind, r.kind as run, count(*)::int as count
        from document d join company c on c.id = d.company_id left join run r on r.id = d.id
        where d.status in ('waiting', 'held', 'preview')
          or exists (select 1 from deposit_request q where q.document_id = d.id)
          or exists (select 1 from payment_request q where q.document_id = d.id)
        group by 1, 2, 3`,
    );
    const waits: WhatWaits = {};
    for (const { company, kind, run, count } of found) {
      if (!may(`read.${DOCUMENT_KINDS[kind].area}`, company)) continue;
      const page = run === null ? DOCUMENT_KINDS[kind].page : pageOfRuns(run);
      const own = (waits[company] ??= {});
      own[page] = (own[page] ?? 0) + count;
    }
    return ok(waits);
  },
});

/** Runs without a page of their own work are in the list of all runs. */
const pageOfRuns = (kind: string): string => {
  const pages = runPages(kind);
  return pages === LISTS ? LISTS : pages.slice(0, -"/runs".length);
};
