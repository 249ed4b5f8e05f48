import { number, object } from "yup";
import { DEPOSIT_KIND_NAMES } from "@/core/banks";
import { dateText, fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { tableFile } from "../../files";
import { readDeposit } from "./depositViews";

/** The slip that goes to the bank with the cheques and the cash. */
export const depositPdf = defineUseCase({
  name: "depositPdf",
  kind: "read",
  rights: ["read.banks", "read.receivables"],
  what: "see deposits",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ name: string; content: Uint8Array }>> => {
    const slip = await readDeposit(context, input.id);
    if (!slip) return fail({ code: "NOT_FOUND", what: "such deposit slip" });
    const may = (["read.banks", "read.receivables"] as const).some((r) =>
      context.may(r, slip.company),
    );
    if (!may) return fail({ code: "FORBIDDEN", what: `see deposits of ${slip.company}` });
    const company = context.masters.companyByCode.get(slip.company)!;
    const { currency } = slip;
    const parts = slip.of.filter((p) => p.state !== "cancelled");
    const paper = await tableFile(
      {
        name: `deposit-${slip.number}`,
        title: `Deposit slip ${slip.number}`,
        subtitle: `${company.name} · to ${slip.bankName || slip.bank} · ${dateText(slip.date)} · ${currency}`,
        headers: ["", "Number", "From", "Amount"],
        weights: [12, 20, 50, 18],
        rows: [
          ...parts.map((p) => ({
            cells: [
              DEPOSIT_KIND_NAMES[p.kind],
              p.cheque,
              p.dueDate ? `${p.payer}, due ${dateText(p.dueDate)}` : p.payer,
              { amount: p.amount, currency },
            ],
          })),
          {
            cells: [`${parts.length} in all`, "", "", { amount: slip.amount, currency }],
            strong: true,
            double: true,
          },
        ],
      },
      "pdf",
      {},
      context.person.name,
    );
    return ok({
      name: `deposit-${slip.number}.pdf`,
      content: new Uint8Array(await paper.arrayBuffer()),
    });
  },
});
