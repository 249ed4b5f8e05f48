import { sql } from "drizzle-orm";
import type { CloseCheckKind } from "../../checks";
import { rows } from "../../db";

export const depreciationCharged: CloseCheckKind = {
  code: "depreciation",
  name: "Depreciation has been charged",
  async look({ tx }, { company, last, to, query }) {
    const period = last.end.slice(0, 7);
    const [found] = await rows<{ assets: number; charged: boolean }>(
      tx,
      sql`select (select count(*)::int from asset a join document d on d.id = a.document_id
            where a.company_id = ${company.id} and d.status = 'active' and a.in_service <= ${to}
              and a.rules->'common'->>'method' <> 'none'
              and exists (select 1 from asset_entry e where e.asset_id = d.id and e.date <= ${to})
              and not exists (select 1 from asset_entry e where e.asset_id = d.id
                and e.movement = 'taken over' and e.date >= ${to})) as assets,
          exists (select 1 from run r join document d on d.id = r.id
            where r.kind = 'depreciation' and r.company_id = ${company.id}
              and d.status = 'posted' and r.params->>'period' >= ${period}) as charged`,
    );
    if (found!.assets === 0)
      return { state: "holds", finding: "No asset is depreciated in it.", door: null };
    return found!.charged
      ? { state: "holds", finding: `A run has charged it up to ${period} or later.`, door: null }
      : {
          state: "warns",
          finding: `${found!.assets} ${found!.assets === 1 ? "asset is" : "assets are"} depreciated, and no run has charged ${period}.`,
          door: `/assets?${query}`,
        };
  },
};
