import { sql } from "drizzle-orm";
import { fail, ok, type CalendarDate, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { rows } from "../../db";

interface Held {
  id: number;
  number: string;
  companyId: number;
  status: string;
  version: number;
  inService: CalendarDate;
  amount: bigint;
}

/** The asset, locked, where somebody may work on it and nobody has changed it meanwhile. */
export async function holdAsset(
  { tx, masters, may }: Context,
  id: number,
  version: number,
): Promise<Result<Held & { company: string }>> {
  const [asset] = await rows<Held>(
    tx,
    sql`select d.id::int as id, d.number, a.company_id as "companyId", d.status, a.version,
        a.in_service as "inService", d.amount
      from asset a join document d on d.id = a.document_id
      where a.document_id = ${id}::bigint for update of a`,
  );
  const company = asset && masters.companyById.get(asset.companyId);
  if (!asset || !company) return fail({ code: "NOT_FOUND", what: "such asset" });
  if (!may("prepare.assets", company.code))
    return fail({ code: "FORBIDDEN", what: `change assets of ${company.name}` });
  if (asset.status !== "active")
    return fail({ code: "IN_USE", what: `${asset.number} is no longer in use` });
  if (asset.version !== version)
    return fail({
      code: "IN_USE",
      what: `Somebody has changed ${asset.number} meanwhile; look again`,
    });
  return ok({ ...asset, company: company.code });
}

/** The day of the newest charge that stands; null where nothing was charged. */
export async function chargedUpTo(tx: Context["tx"], id: number): Promise<CalendarDate | null> {
  const [found] = await rows<{ last: CalendarDate | null }>(
    tx,
    sql`select max(e.date) as last from asset_entry e join journal j on j.id = e.journal_id
      where e.asset_id = ${id} and e.movement = 'charge' and j.reverses_id is null
        and not exists (select 1 from journal r where r.reverses_id = j.id)`,
  );
  return found!.last;
}
