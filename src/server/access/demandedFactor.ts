import { sql, type SQL } from "drizzle-orm";

/** The setting that names the roles from which a second factor is demanded. */
export const DEMANDED_ROLES = "second-factor-roles";

/** Whether a person has a second factor that counts. */
export const hasSecondFactor = (personId: SQL): SQL => sql`exists (select 1 from second_factor f
  where f.person_id = ${personId} and f.confirmed_at is not null)`;

/** Whether a role of theirs demands one. */
export const needsSecondFactor = (personId: SQL): SQL => sql`exists (select 1 from person_role r
  where r.person_id = ${personId} and r.role in
    (select jsonb_array_elements_text(value) from setting where key = ${DEMANDED_ROLES}))`;
