import { integer, jsonb, pgTable } from "drizzle-orm/pg-core";
import type { LetterLayout } from "../../../core/letters";
import { company } from "./organisation";

/** How the letters of a company look; one row at most. */
export const letterLayout = pgTable("letter_layout", {
  companyId: integer()
    .primaryKey()
    .references(() => company.id),
  layout: jsonb().$type<Omit<LetterLayout, "company">>().notNull(),
});
