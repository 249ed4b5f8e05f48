import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import { fail, ok } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";

/** What a type of journal proposes and allows. Its code, area and series stay. */
export const saveJournalType = defineUseCase({
  name: "saveJournalType",
  kind: "write",
  rights: ["setup.rules", "setup.organisation"],
  what: "change journal types",
  of: "group",
  schema: object({
    code: string()
      .required("A code is needed")
      .matches(/^[a-z][a-z0-9-]{1,29}$/, "A code has small letters, figures and dashes"),
    name: string().required("A name is needed").max(40),
    reversal: string()
      .oneOf(["swap", "negative"] as const)
      .default("swap"),
    naming: string().max(100).default(""),
    reverses: boolean().default(false),
    autoReverse: boolean().default(false),
    /** Letters before the numbers; the same letters share one series. */
    prefix: string()
      .trim()
      .uppercase()
      .matches(/^[A-Z]{0,3}$/, "A prefix has up to three letters")
      .default(""),
    books: array(string().required()).default([]),
    controls: array(
      string()
        .oneOf(["payables", "receivables", "intercompany"] as const)
        .required(),
    ).default(["payables", "receivables"]),
    approval: string()
      .oneOf(["rules", "always", "never"] as const)
      .default("rules"),
  }),
  run: async ({ tx, masters, audit }, input) => {
    const before = masters.typeByCode.get(input.code);
    if (before && !before.manual)
      return fail({
        code: "IN_USE",
        what: `Journals of type ${before.name} are made by the system; it stays as it is`,
        field: "code",
      });
    const book = input.books.find((b) => !masters.bookByCode.has(b));
    if (book) return fail({ code: "BOOK_UNKNOWN", book, field: "books" });
    const [series] = await rows<{ code: string }>(
      tx,
      sql`select code from number_series where prefix = ${input.prefix}`,
    );
    if (!series)
      await tx.execute(
        sql`insert into number_series (code, prefix) values (${`letters-${input.prefix}`}, ${input.prefix})`,
      );
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into journal_type (code, name, area, series, manual, reversal, controls, naming,
        reverses, auto_reverse, books, approval)
          values (${input.code}, ${input.name}, 'ledger',
            ${series?.code ?? `letters-${input.prefix}`}, true, ${input.reversal},
            ${JSON.stringify(input.controls)}::jsonb, ${input.naming}, ${input.reverses},
            ${input.autoReverse}, ${JSON.stringify(input.books)}::jsonb, ${input.approval})
          on conflict (code) do update set name = excluded.name, series = excluded.series,
            reversal = excluded.reversal, controls = excluded.controls, naming = excluded.naming,
            reverses = excluded.reverses, auto_reverse = excluded.auto_reverse,
            books = excluded.books, approval = excluded.approval returning id`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "journal type",
      recordId: saved!.id,
      label: input.code,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});
