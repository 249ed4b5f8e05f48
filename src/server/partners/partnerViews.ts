import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { bankAddressKey, type BankAddress } from "@/core/banks";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { dealingWith } from "./dealing";
import { readPartners, type PartnerRow } from "./partnerRow";
import { alikeOf, type PartnerLike } from "./partnersLike";
import { CONFIRM, READ } from "./rights";

export interface PartnerBank extends BankAddress {
  id: number;
  holder: string;
  state: "waiting" | "confirmed" | "refused" | "ended";
  changedBy: string;
  changedAt: string;
  decidedBy: string | null;
  mayDecide: boolean;
}

export const listPartners = defineUseCase({
  name: "listPartners",
  kind: "read",
  rights: READ,
  what: "see suppliers and customers",
  of: "shared",
  schema: object({ role: string().oneOf(["supplier", "customer"] as const) }),
  run: async ({ tx }, input): Promise<Result<PartnerRow[]>> =>
    ok(
      await readPartners(
        tx,
        sql`where
          ${input.role === "supplier" ? sql`p.supplier` : input.role === "customer" ? sql`p.customer` : sql`true`}
          order by p.name, p.code`,
      ),
    ),
});

export interface PartnerView extends PartnerRow {
  banks: PartnerBank[];
  /** Others with the same tax number or bank account, or a name that is alike. */
  alike: PartnerLike[];
}

export const getPartner = defineUseCase({
  name: "getPartner",
  kind: "read",
  rights: READ,
  what: "see suppliers and customers",
  of: "shared",
  schema: object({ code: string().required().max(60) }),
  run: async (context, input): Promise<Result<PartnerView>> => {
    const { tx, person, may } = context;
    const [found] = await readPartners(tx, sql`where p.code = ${input.code}`);
    if (!found) return fail({ code: "PARTNER_UNKNOWN", partner: input.code });
    const banks = await rows<Omit<PartnerBank, "mayDecide"> & { changedById: number }>(
      tx,
      sql`select b.id, b.iban, b.bic, b.number, b.routing, b.country, b.holder, b.state, c.name as "changedBy",
        b.changed_by as "changedById", b.changed_at as "changedAt", d.name as "decidedBy"
        from partner_bank b join person c on c.id = b.changed_by left
        join person d on d.id = b.decided_by where b.partner_id = ${found.id} order by b.id desc`,
    );
    const companies = await dealingWith(context, [found.code]);
    const decides = CONFIRM.some((r) =>
      companies.length === 0 ? may(r) : companies.every((c) => may(r, c)),
    );
    return ok({
      ...found,
      banks: banks.map(({ changedById, ...b }) => ({
        ...b,
        mayDecide: b.state === "waiting" && decides && changedById !== person.id,
      })),
      alike: await alikeOf(context, {
        ...found,
        accounts: banks.filter((b) => b.state !== "refused").map(bankAddressKey),
      }),
    });
  },
});
