import { array, boolean, object, string } from "yup";
import { bankAddressKey, readBankAddress } from "@/core/banks";
import { partnerSchema, type PartnerInput } from "@/core/partners";
import { atCell, atRow, fail, parse, ok, tableRow, type Found, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { banksInForce } from "./bankInForce";
import { dealingWith } from "./dealing";
import { addPartnerBank } from "./partnerBanks";
import { readPartners, type PartnerRow } from "./partnerRow";
import {
  accountOfRow,
  columnsOfDimensions,
  fieldsOfRow,
  isSame,
  type HeldAccount,
} from "./partnerTable";
import { problemsOf, savePartner } from "./savePartner";
import { WRITE } from "./rights";

/** What a row asks for, of a partner and of its bank account. */
interface Wanted {
  partner: PartnerInput;
  before: PartnerRow | undefined;
  /** An account that it has not yet. */
  account: HeldAccount | null;
}

/**
 * Takes partners in from a file: all of them or, with one problem anywhere, none. Without `take` it
 * only says what would happen. A bank account that is new waits for a second person, as one that is
 * typed; an empty cell ends none.
 */
export const loadPartners = defineUseCase({
  name: "loadPartners",
  kind: "write",
  rights: WRITE,
  what: "load suppliers and customers",
  of: (context, input) =>
    dealingWith(context, [...new Set(input.rows.map((r) => r.code?.trim() ?? ""))]),
  schema: object({
    rows: array(tableRow()).required().max(20_000),
    role: string()
      .oneOf(["supplier", "customer"] as const)
      .default("supplier"),
    take: boolean().default(false),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const known = new Map((await readPartners(context.tx)).map((p) => [p.code, p]));
    const banks = await banksInForce(context.tx);
    const counts = { added: 0, changed: 0, same: 0 };
    const problems: Found[] = [];
    const seen = new Set<string>();
    const wanted: Wanted[] = [];
    for (const [i, row] of input.rows.entries()) {
      const no = i + 2;
      const before = known.get(row.code?.trim() ?? "");
      const bad = (what: string, field: string) =>
        problems.push(atRow(no, { code: "INVALID", what, field }));
      const written = partnerOf(context, row, before, input.role);
      if (!written.ok) {
        problems.push(...written.problems.map((p) => atCell(no, p)));
        continue;
      }
      const partner = written.value;
      if (seen.has(partner.code)) bad(`Number ${partner.code} stands in the file twice`, "code");
      seen.add(partner.code);
      for (const p of await problemsOf(context, partner)) problems.push(atRow(no, p));
      const account = accountOfRow(row);
      const read = account && readBankAddress(account);
      if (read && !read.ok) for (const p of read.problems) bad(p.what, p.field);
      if (read?.ok && bankAddressKey(read.address) === "")
        bad("The IBAN is missing, or the number of the account with its bank", "iban");
      const has = new Set((banks.get(before?.id ?? 0) ?? []).map(bankAddressKey));
      const isNew = read?.ok === true && !has.has(bankAddressKey(read.address));
      if (before && !isNew && isSame(partner, before)) counts.same++;
      else {
        counts[before ? "changed" : "added"]++;
        wanted.push({ partner, before, account: isNew ? account : null });
      }
    }
    const [against, ...others] = problems;
    if (against) return fail(against, ...others);
    if (!input.take) return ok(counts);
    for (const one of wanted) {
      const kept = await keep(context, one);
      if (!kept.ok) return kept;
    }
    return ok(counts);
  },
});

/** The partner that a row makes of what was known before, or what does not fit a field. */
function partnerOf(
  { masters }: Context,
  row: Readonly<Record<string, string>>,
  before: PartnerRow | undefined,
  role: "supplier" | "customer",
): Result<PartnerInput> {
  const dimensions = columnsOfDimensions(masters.dimensions);
  return parse(partnerSchema, {
    ...before,
    [role]: true,
    ...fieldsOfRow(row, before, dimensions),
  });
}

/** Keeps what is new of a partner, and then of its account. */
async function keep(context: Context, { partner, before, account }: Wanted) {
  if (!before || !isSame(partner, before)) {
    const version = before ? { version: before.version } : {};
    const saved = await savePartner.definition.run(context, { ...partner, ...version });
    if (!saved.ok) return saved;
  }
  return account === null
    ? ok({})
    : addPartnerBank.definition.run(context, { partner: partner.code, ...account });
}
