import { object, string } from "yup";
import { takesWriting } from "@/core/ledger";
import { ok, type Result } from "@/core/shared";
import type { ShareSet } from "@/core/shares";
import type { TaxCode } from "@/core/taxes";
import { defineUseCase } from "../access";
import { listShortcuts, type Shortcut } from "../ledger";
import { codingFacts } from "./codings";

/** What amounts of banks and cash boxes can be coded with, in a company. */
export interface BankCodings {
  company: string;
  accounts: { code: string; name: string; forbidden: string[] }[];
  dimensions: { code: string; name: string; values: { code: string; name: string }[] }[];
  taxCodes: TaxCode[];
  shares: ShareSet[];
  shortcuts: Shortcut[];
}

export const bankCodings = defineUseCase({
  name: "bankCodings",
  kind: "read",
  rights: ["read.banks", "prepare.banks", "read.setup"],
  what: "code bank movements",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async (context, { company }): Promise<Result<BankCodings>> => {
    const { masters } = context;
    const facts = await codingFacts(context, company);
    const shortcuts = await listShortcuts.definition.run(context, { company });
    return ok({
      company,
      accounts: masters.accounts
        .filter((a) => !a.blocked && takesWriting(a) && (a.usedBy?.includes(company) ?? true))
        .map((a) => ({
          code: a.number,
          name: a.name,
          forbidden: masters.dimensions
            .filter((d) => a.rules[d.id] === "forbidden")
            .map((d) => d.code),
        })),
      dimensions: masters.dimensions.map((d) => ({
        code: d.code,
        name: d.name,
        values: masters.dimensionValues
          .filter((v) => v.dimensionId === d.id && !v.blocked)
          .map((v) => ({ code: v.code, name: v.name })),
      })),
      taxCodes: [...facts.taxCodes.values()].filter((t) => t.kind !== "withheld"),
      shares: [...facts.shares.values()],
      shortcuts: shortcuts.ok ? shortcuts.value : [],
    });
  },
});
