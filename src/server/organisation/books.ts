import { sql } from "drizzle-orm";
import { object } from "yup";
import { bookSchema, type Book } from "@/core/organisation";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows } from "../db";

export interface BookRow extends Book {
  /** Journals that belong to it alone. */
  journals: number;
}

export const listBooks = defineUseCase({
  name: "listBooks",
  kind: "read",
  rights: ["read.setup", "setup.organisation", "read.ledger"],
  what: "see books",
  of: "shared",
  schema: object(),
  run: async ({ tx, masters }): Promise<Result<BookRow[]>> => {
    const counts = await rows<{ id: number; journals: number }>(
      tx,
      sql`select book_id as id, count(*)::int as journals from journal group by 1`,
    );
    const of = new Map(counts.map((c) => [c.id, c.journals]));
    return ok(masters.allBooks.map((b) => ({ ...b, journals: of.get(b.id) ?? 0 })));
  },
});

/**
 * Adds an accounting basis, names it anew, ends it or takes it up again. A new book begins with what belongs to all
 * books, and with its periods as they stand in the main one; an ended one takes no more postings.
 */
export const saveBook = defineUseCase({
  name: "saveBook",
  kind: "write",
  rights: ["setup.organisation"],
  what: "set up books",
  of: "group",
  schema: bookSchema,
  run: async ({ tx, masters, audit, person, now }, input): Promise<Result<{ id: number }>> => {
    const before = masters.bookByCode.get(input.code);
    if (input.code === "ALL")
      return fail({ code: "INVALID", what: "ALL stands for all books", field: "code" });
    if (before?.main && input.ended)
      return fail({
        code: "IN_USE",
        what: "The main book is the one that everything is seen by; it does not end",
        field: "ended",
      });
    if (!before && masters.allBooks.length >= 20)
      return fail({ code: "INVALID", what: "There can be twenty books", field: "code" });
    const [saved] = await rows<{ id: number }>(
      tx,
      before
        ? sql`update book set name = ${input.name}, ended = ${input.ended} where id = ${before.id}
            returning id`
        : sql`insert into book (id, code, name, main, ended)
            values ((select max(id) + 1 from book), ${input.code}, ${input.name}, false,
            ${input.ended}) returning id`,
    );
    // Also one that is taken up again: its own periods stood still meanwhile, and what belongs to
    // all books would wait for them.
    if (!before || (before.ended && !input.ended)) {
      await tx.execute(
        sql`insert into close_record (company_id, year_id, no, book_id, area, from_state, to_state,
            reason, person_id, at, chain_seq, chain_hash)
          select y.company_id, m.year_id, m.no, ${saved!.id}, m.area, o.state, m.state,
            'The book goes on as the main one stands', ${person.id}, ${now.toISOString()}, c.seq,
            c.hash
          from period_state m join fiscal_year y on y.id = m.year_id
            join chain c on c.company_id = y.company_id
            join period_state o on o.year_id = m.year_id and o.no = m.no and o.area = m.area
              and o.book_id = ${saved!.id}
          where m.book_id = ${masters.mainBook?.id ?? 1} and o.state <> m.state`,
      );
      await tx.execute(
        sql`insert into period_state (year_id, no, book_id, area, state)
          select year_id, no, ${saved!.id}, area, state from period_state
          where book_id = ${masters.mainBook?.id ?? 1}
          on conflict (year_id, no, book_id, area) do update set state = excluded.state`,
      );
    }
    await audit({
      action: before ? "changed" : "added",
      kind: "book",
      recordId: saved!.id,
      label: input.code,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});
