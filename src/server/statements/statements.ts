import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  evaluate,
  layoutOf,
  resolveColumns,
  STATEMENT_LAYOUTS,
  type Outline,
  type StatementFigures,
} from "@/core/statements";
import { periodKey, periodName } from "@/core/organisation";
import { fail, ok, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import { defineUseCase } from "../access";
import { findPlace, loadTurnover, placeSchema } from "../ledger";

/** The newest version of each outline; with an instant, the newest of then. */
export const readOutlines = (tx: Db, at?: string): Promise<Outline[]> =>
  rows<Outline>(
    tx,
    sql`select distinct on (code) code, version, name, kind, lines, layout
      from outline where used_at is not null
        ${at ? sql`and (version = 1 or used_at <= ${at})` : sql``}
      order by code, version desc`,
  );

export interface Statement extends StatementFigures {
  code: string;
  name: string;
  kind: Outline["kind"];
  company: string;
  companyName: string;
  book: string;
  currency: string;
  period: string;
  periodName: string;
}

export const statement = defineUseCase({
  name: "statement",
  kind: "read",
  rights: ["read.statements"],
  what: "see statements",
  company: (i) => i.company,
  schema: object({
    ...placeSchema,
    code: string().required(),
    layout: string().oneOf(STATEMENT_LAYOUTS).default("standard"),
  }),
  run: async (context, input): Promise<Result<Statement>> => {
    const { tx, masters } = context;
    const found = await findPlace(context, input);
    if (!found.ok) return found;
    const { company, book, from, to, years, periods, asKnownSeq, asKnown } = found.value;
    const outline = (await readOutlines(tx, asKnown)).find((o) => o.code === input.code);
    if (!outline) return fail({ code: "NOT_FOUND", what: `statement ${input.code.slice(0, 40)}` });
    const layout = layoutOf(input.layout, outline, to, years, periods);
    const columns = resolveColumns(layout, outline.kind, to, years, periods, from);
    const yearIds = [...new Set(columns.flatMap((c) => (c.span ? [c.span.yearId] : [])))];
    const turnover = await loadTurnover(
      tx,
      { companyId: company.id, bookId: book.id, yearIds, asKnownSeq },
      masters,
      years,
    );
    const moved = new Set(turnover.map((t) => t.accountId));
    const figures = evaluate(outline, columns, masters.accounts, turnover);
    return ok({
      ...figures,
      // Only accounts that hold something can be missing from a statement.
      uncaught: figures.uncaught.filter((a) => moved.has(a.id)),
      caughtTwice: figures.caughtTwice.filter((a) => moved.has(a.id)),
      code: outline.code,
      name: outline.name,
      kind: outline.kind,
      company: company.code,
      companyName: company.name,
      book: book.code,
      currency: company.currency,
      period: periodKey(to),
      periodName:
        outline.kind === "position" || from.no === to.no
          ? periodName(to)
          : `${from.name} to ${periodName(to)}`,
    });
  },
});

export const listStatements = defineUseCase({
  name: "listStatements",
  kind: "read",
  rights: ["read.statements"],
  what: "see statements",
  of: "shared",
  schema: object(),
  run: async ({ tx }) =>
    ok((await readOutlines(tx)).map(({ code, name, kind }) => ({ code, name, kind }))),
});
