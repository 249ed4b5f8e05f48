import { sql } from "drizzle-orm";
import { object } from "yup";
import { ok } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { READ } from "./rights";

interface Named {
  code: string;
  name: string;
}

/** People who may collect: whoever works in receivables anywhere, by sign-in name. */
export const listCollectors = defineUseCase({
  name: "listCollectors",
  kind: "read",
  rights: READ,
  what: "see suppliers and customers",
  of: "shared",
  schema: object(),
  run: async ({ tx }) =>
    ok(
      await rows<Named>(
        tx,
        sql`select distinct p.login as code, p.name from person p
          join person_role g on g.person_id = p.id
          where p.active and g.role in ('receivables', 'controller') order by p.name`,
      ),
    ),
});

export const listCustomerGroups = defineUseCase({
  name: "listCustomerGroups",
  kind: "read",
  rights: READ,
  what: "see suppliers and customers",
  of: "shared",
  schema: object(),
  run: async ({ tx }) =>
    ok(await rows<Named>(tx, sql`select code, name from customer_group order by code`)),
});
