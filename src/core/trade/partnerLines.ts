import { countsFromDelivery, instalmentsOf, type Instalment } from "../openItems";
import { addDays, minor, type Found, type Minor } from "../shared";
import type { PaperContext, PaperLines } from "./paper";
import type { PaperInput, PaperLine } from "./paperInput";
import type { PaperHead } from "./readHead";
import type { TradeSide } from "./side";

interface Sums {
  net: Minor;
  tax: Minor;
  gross: Minor;
}

/** When what is owed falls due, by the terms; without any, in thirty days. */
export function instalmentsOfPaper(
  input: PaperInput<PaperLine>,
  context: PaperContext,
  { date, due }: PaperHead,
  { net, tax, gross }: Sums,
): { instalments: Instalment[]; problems: Found[] } {
  const terms = context.terms.get(input.terms.trim() || context.partner?.terms || "");
  const problems: Found[] =
    input.terms.trim() && !terms
      ? [{ code: "NOT_FOUND", what: `such terms as ${input.terms}`, field: "terms" }]
      : [];
  if (date === "") return { instalments: [], problems };
  if (terms && input.delivered === null && !due && countsFromDelivery(terms))
    problems.push({
      code: "INVALID",
      what: "Its terms count from the delivery: say when it was supplied",
      field: "deliveredOn",
    });
  const discountable = {
    "invoice total": minor(net + tax),
    net,
    "amount payable": gross,
  }[context.discountOn ?? "invoice total"];
  const instalments = terms
    ? instalmentsOf(terms, date, gross, {
        discountable,
        due: due || undefined,
        delivered: input.delivered ?? date,
      })
    : [{ due: due || addDays(date, 30), amount: gross, discounts: [] }];
  return { instalments, problems };
}

/** What the partner owes or is owed: a line, and so an open item, for each instalment. */
export function addPartnerLines(
  to: PaperLines,
  instalments: readonly Instalment[],
  of: { input: PaperInput<PaperLine>; context: PaperContext; side: TradeSide; sign: bigint },
): Found[] {
  const { input, context, side } = of;
  const control = input.controlAccount.trim() || context.control;
  const reference = input.number.trim();
  for (const part of instalments)
    to.add(
      {
        account: control,
        dimensions: {},
        description: `${reference} ${context.partner?.name ?? ""}`.trim(),
        partner: context.partner?.code ?? input.partner,
        dueDate: part.due,
        item: {
          kind: input.kind,
          reference,
          ...(input.kind === "invoice" && part.discounts.length > 0
            ? { discounts: part.discounts }
            : {}),
        },
      },
      -of.sign * part.amount,
      null,
    );
  return input.controlAccount.trim() !== "" && !context.controls?.has(control)
    ? [
        {
          code: "INVALID",
          what: `Account ${control} is no control account of ${side.partner.plural}`,
          field: "controlAccount",
        },
      ]
    : [];
}
