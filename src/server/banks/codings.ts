import { codedRest, type CodedRest, type CodingFacts, type LineCoding } from "@/core/banks";
import { withUsualValues, writtenCodingProblems } from "@/core/ledger";
import { fail, ok, type CalendarDate, type Found, type Minor, type Result } from "@/core/shared";
import type { Context } from "../access";
import { readShares } from "../purchasing";
import { readTaxCodes } from "../taxes";

/** What codings of bank movements are read with, in a company. */
export async function codingFacts({ tx }: Context, company: string): Promise<CodingFacts> {
  const codes = (await readTaxCodes(tx)).filter((t) => !t.blocked);
  return {
    company,
    taxCodes: new Map(codes.map((t) => [t.code, t])),
    shares: new Map((await readShares(tx)).map((s) => [s.code, s])),
  };
}

/** A coding as it is kept: of tax and shares only what there is. */
export const writtenCoding = ({
  account,
  dimensions,
  text,
  tax = "",
  shares = "",
}: LineCoding): LineCoding => ({
  account,
  dimensions,
  text,
  ...(tax === "" ? {} : { tax }),
  ...(shares === "" ? {} : { shares }),
});

/**
 * What an amount of a bank account becomes by a coding, with the usual values of the account. Errors:
 * as `codedRest`, and what stands against an account or a value of any part.
 */
export function codedAmount(
  { masters }: Context,
  coding: LineCoding,
  amount: Minor,
  on: { booked: CalendarDate; currency: string; usual: Readonly<Record<string, string>> },
  facts: CodingFacts,
): Result<CodedRest> {
  const made = codedRest(coding, amount, on, facts);
  if (!made.ok) return made;
  const parts = made.value.parts.map((p) =>
    p.written ? { ...p, dimensions: withUsualValues(masters, p, on.usual) } : p,
  );
  const found = parts.flatMap((p) => (p.written ? writtenCodingProblems(masters, p) : []));
  if (found.length > 0) return fail(...(found as [Found, ...Found[]]));
  return ok({ ...made.value, parts });
}
