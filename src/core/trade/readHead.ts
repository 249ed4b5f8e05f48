import { readRate } from "../rates";
import { readDate, type CalendarDate, type Found } from "../shared";
import type { PaperContext } from "./paper";
import type { PaperInput, PaperLine } from "./paperInput";
import type { TradeSide } from "./side";

export interface PaperHead {
  currency: string;
  date: CalendarDate | "";
  postingDate: CalendarDate | "";
  /** A due date that stands on the paper. */
  due: CalendarDate | "";
  rate: string | undefined;
  problems: Found[];
}

/** What the head of a trade document says, and what stands against it at its fields. */
export function readHead(
  input: PaperInput<PaperLine>,
  context: PaperContext,
  side: TradeSide,
): PaperHead {
  const problems: Found[] = [];
  const day = (written: string, field: string, what: string): CalendarDate | "" => {
    const read = readDate(written, context.today);
    if (written.trim() === "") problems.push({ code: "REQUIRED", what, field });
    else if (!read) problems.push({ code: "DATE_INVALID", text: written, field });
    return read ?? "";
  };
  const date = day(input.date, "date", "The invoice date");
  const postingDate =
    input.postingDate.trim() === ""
      ? date
      : day(input.postingDate, "postingDate", "The journal date");
  problems.push(...partnerProblems(input.partner, context, side));
  if (side.number && input.number.trim() === "")
    problems.push({ code: "REQUIRED", what: side.number, field: "number" });
  const rate = input.rate.trim() === "" ? undefined : readRate(input.rate);
  if (rate === null) problems.push({ code: "RATE_INVALID", text: input.rate, field: "rate" });
  const due = input.dueDate.trim() === "" ? "" : day(input.dueDate, "dueDate", "The due date");
  return {
    currency: input.currency?.trim().toUpperCase() || context.functional,
    date,
    postingDate,
    due,
    rate: rate ?? undefined,
    problems,
  };
}

function partnerProblems(written: string, { partner }: PaperContext, side: TradeSide): Found[] {
  const { field, noun } = side.partner;
  if (partner)
    return partner.blocked
      ? [
          {
            code: "INVALID",
            what: `${partner.name} is blocked${partner.why ? `: ${partner.why}` : ""}`,
            field,
          },
        ]
      : [];
  return written.trim() === ""
    ? [{ code: "REQUIRED", what: noun, field }]
    : [{ code: "PARTNER_UNKNOWN", partner: written, field }];
}
