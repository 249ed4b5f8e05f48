import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { bankAddressKey, isAtBank, type AccountKind, type BankAddress } from "@/core/banks";
import { minor, ok, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { arrayOf, rows } from "../db";
import { balanceNow } from "./balanceNow";
import { bankOfSide } from "./sideOfTransfer";

/** A bank account that money can be moved from or to, with what it stands at today. */
export interface TransferAccount {
  code: string;
  name: string;
  company: string;
  companyName: string;
  currency: string;
  /** What the ledger has on it, with what is under way from it and to it; its currency. */
  standing: Minor;
  /** Whether transfers of the asked company can go there or come from there. */
  isOwn: boolean;
}

/**
 * The accounts between which money can be moved: those of the company, and those of companies that it
 * has accounts due from and due to with, where the person may post.
 */
export const transferAccounts = defineUseCase({
  name: "transferAccounts",
  kind: "read",
  rights: ["post.banks"],
  what: "move money between own accounts",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async (context, input): Promise<Result<TransferAccount[]>> => {
    const { tx, masters, may, today } = context;
    const near = masters.companies.filter(
      (c) =>
        c.code === input.company ||
        (masters.pair(input.company, c.code) !== undefined && may("post.banks", c.code)),
    );
    const found = await rows<
      BankAddress & {
        kind: AccountKind;
        code: string;
        name: string;
        company: string;
        companyName: string;
        currency: string;
        balance: bigint;
        underWay: bigint;
      }
    >(
      tx,
      sql`select b.kind, b.code, b.name, c.code as company, c.name as "companyName", b.currency, b.iban,
          b.bic, b.number, b.routing, b.country, ${balanceNow(context)} as balance,
          coalesce((select sum(i.left_amount) from open_item i join account w on w.id = i.account_id
            left join (document_link l join payment p on p.document_id = l.from_id
              and l.kind = 'made') on l.to_id = i.journal_id
            where i.company_id = b.company_id and i.area = 'transit' and i.currency = b.currency
              and w.number = b.under_way_account and i.left_amount <> 0
              and coalesce(${bankOfSide("i", "p")}, b.id) = b.id), 0)::bigint as "underWay"
        from bank_account b join company c on c.id = b.company_id
          join account a on a.number = b.account
        where b.company_id = any(${arrayOf(near.map((c) => c.id))}::int[])
          and (b.closed_on is null or b.closed_on > ${today})
        order by c.code, b.code`,
    );
    return ok(
      found
        .filter((b) => isAtBank(b) && bankAddressKey(b) !== "")
        .map(({ code, name, company, companyName, currency, balance, underWay }) => ({
          code,
          name,
          company,
          companyName,
          currency,
          standing: minor(balance + underWay),
          isOwn: company === input.company,
        })),
    );
  },
});
