import { array, boolean, object, string } from "yup";
import { saleInput, type SaleInput, type SaleLineInput } from "@/core/receivables";
import { fail, ok, tableRow, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { keepAll } from "../keptDocuments";
import { cellOf, dimensionsIn } from "../trade";
import { prepareSales } from "./checkSale";
import { SALES } from "./keepSales";
import { withItems } from "./saleItems";

/** Faults that one answer tells; nobody reads more at once. */
const MOST_TOLD = 50;

/**
 * Invoices and credit notes to customers from a table, a line of one each row: rows below each
 * other with the same text under "invoice" are one. They are kept as drafts, all of them or, with
 * one problem anywhere, none; without `take` it only says what would happen. Numbers come when they
 * are posted.
 */
export const loadSales = defineUseCase({
  name: "loadSales",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "load sales invoices",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    rows: array(tableRow()).required().max(20_000),
    take: boolean().default(false),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const papers: { key: string; first: number; content: SaleInput; rows: number[] }[] = [];
    input.rows.forEach((row, i) => {
      const no = i + 2;
      const key = cellOf(row, "invoice", "number");
      const customer = cellOf(row, "customer");
      const line = lineOf(row, dimensionsIn(row, context.masters));
      const last = papers.at(-1);
      if (last && key !== "" && last.key === key && last.content.customer === customer) {
        last.content.lines.push(...saleInput({ lines: [line] }).lines);
        last.rows.push(no);
        return;
      }
      papers.push({
        key,
        first: no,
        rows: [no],
        content: saleInput({
          company: input.company,
          customer,
          kind: cellOf(row, "kind") === "credit note" ? "credit note" : "invoice",
          corrects: cellOf(row, "corrects"),
          date: cellOf(row, "date"),
          deliveredOn: cellOf(row, "supplied", "delivered"),
          currency: cellOf(row, "currency").toUpperCase() || null,
          reference: cellOf(row, "reference"),
          description: cellOf(row, "subject"),
          lines: [line],
        }),
      });
    });
    if (papers.length === 0) return fail({ code: "INVALID", what: "The table has no rows" });
    const contents = await withItems(
      context,
      papers.map((p) => p.content),
    );
    const ready = await prepareSales(
      context,
      contents.map((input) => ({ input })),
    );
    if (!ready.ok) return ready;
    const problems = papers.flatMap(({ first, rows }, i) =>
      ready.value[i]!.problems.map((p): Found => {
        const line = p.line === undefined ? first : (rows[p.line - 1] ?? first);
        return { ...p, line };
      }),
    );
    const [against, ...others] = problems.slice(0, MOST_TOLD);
    if (against) return fail(against, ...others);
    if (input.take)
      await keepAll(
        SALES,
        context,
        contents.map((content, i) => ({ content, prepared: ready.value[i]! })),
      );
    return ok({ added: papers.length, changed: 0, same: 0 });
  },
});

const lineOf = (
  row: Readonly<Record<string, string>>,
  dimensions: Record<string, string>,
): Partial<SaleLineInput> => ({
  dimensions,
  item: cellOf(row, "item"),
  account: cellOf(row, "account"),
  description: cellOf(row, "description", "text"),
  quantity: cellOf(row, "quantity"),
  unit: cellOf(row, "unit"),
  price: cellOf(row, "price"),
  discount: cellOf(row, "discount"),
  net: cellOf(row, "net", "amount"),
  taxCode: cellOf(row, "tax", "tax code", "taxcode"),
  shares: cellOf(row, "shares"),
});
