import { object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { balanceOn } from "../../openItems";
import { readIntake, type IntakeLine } from "./readIntake";

export interface Intake {
  lines: IntakeLine[];
  /** The clearing accounts, and what the ledger has on them. */
  clearing: { accounts: string[]; held: bigint; listed: bigint };
}

/** What waits to become an asset, with what it still needs. */
export const listIntake = defineUseCase({
  name: "listIntake",
  kind: "read",
  rights: ["read.assets", "prepare.assets"],
  what: "see the intake of assets",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async (context, { company: code }): Promise<Result<Intake>> => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(code);
    if (!company) return fail({ code: "COMPANY_UNKNOWN", company: code, field: "company" });
    const { lines } = await readIntake(tx, masters, company.id);
    const accounts = masters.accounts.filter((a) => a.control === "intake");
    const held =
      accounts.length === 0
        ? 0n
        : await balanceOn(
            context,
            company.id,
            accounts.map((a) => a.id),
            { on: "2199-12-31" },
          );
    const listed = lines.reduce((t, l) => (l.source.clearing ? t + l.amount : t), 0n);
    return ok({ lines, clearing: { accounts: accounts.map((a) => a.number), held, listed } });
  },
});
