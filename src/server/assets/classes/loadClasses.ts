import { sql } from "drizzle-orm";
import type { AssetClass } from "@/core/assets";
import { rows, type Db } from "../../db";

export interface KeptClass extends AssetClass {
  id: number;
}

/** Every class, by its code. */
export const loadClasses = (tx: Db): Promise<KeptClass[]> =>
  rows<KeptClass>(
    tx,
    sql`select id, code, name, parent, accounts, rules, threshold, needs, blocked
      from asset_class order by code`,
  );
