import { sql } from "drizzle-orm";
import { object } from "yup";
import { firstSteps, hasBegun, type Begun, type FirstStep } from "@/core/organisation";
import { ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";

/** The steps from an empty installation to its first journal; none once it has begun. */
export const listFirstSteps = defineUseCase({
  name: "listFirstSteps",
  kind: "read",
  rights: ["setup.organisation"],
  what: "set up the books",
  of: "group",
  schema: object(),
  run: async ({ tx }): Promise<Result<FirstStep[]>> => {
    const [begun] = await rows<Begun>(
      tx,
      sql`select (select count(*)::int from company) as companies,
        (select count(*)::int from company c
          where not exists (select 1 from fiscal_year y where y.company_id = c.id))
          as "withoutYear",
        (select count(*)::int from book where id > 0 and not ended) as books,
        (select count(*)::int from account) as accounts,
        (select count(*)::int from dimension_value) as values,
        (select count(*)::int from person where active) as people,
        (select count(*)::int from (select 1 from journal j join journal_type t on t.id = j.type_id
          where t.code = 'opening' limit 2) o) as openings,
        (select count(*)::int from (select 1 from journal limit 4) j) as journals`,
    );
    const steps = firstSteps(begun!);
    return ok(hasBegun(steps) ? [] : steps);
  },
});
