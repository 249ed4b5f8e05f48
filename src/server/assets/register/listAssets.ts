import { sql } from "drizzle-orm";
import { string } from "yup";
import { listSchema } from "@/core/lists";
import { dayField, fail } from "@/core/shared";
import { defineUseCase } from "../../access";
import { documentList, queryDocuments } from "../../documents";
import { column, type RowOf } from "../../lists";

/** The register in a book on a day: cost, what is charged of it, and what it is carried at. */
const registerOf = (bookId: number, on: string) =>
  documentList({
    kinds: ["asset"],
    joins: sql`join asset a on a.document_id = d.id join asset_class c on c.id = a.class_id
      left join lateral (select p.place, p.person, p.dimensions from asset_place p
        where p.asset_id = d.id and p.from <= greatest(${on}::date, a.in_service)
        order by p.from desc limit 1) u on true
      left join lateral (select coalesce(sum(e.amount) filter (where e.part = 'cost'), 0) as cost,
          -coalesce(sum(e.amount) filter (where e.part = 'accumulated'), 0) as accumulated
        from asset_entry e where e.asset_id = d.id and e.date <= ${on}
          and e.book_id in (0, ${bookId})) v on true`,
    columns: {
      number: column.maybeText(sql`d.number`),
      status: column.state(sql`d.status`),
      description: column.text(sql`d.title`),
      className: column.text(sql`c.name`),
      inService: column.day(sql`a.in_service`),
      place: column.text(sql`u.place`),
      person: column.text(sql`u.person`),
      costCentre: column.text(sql`u.dimensions->>'costCentre'`),
      project: column.text(sql`u.dimensions->>'project'`),
      serial: column.text(sql`a.serial`),
      quantity: column.count(sql`a.quantity / 1000`),
      insurance: column.text(sql`a.insurance`),
      warrantyTo: column.day(sql`a.warranty_to`),
      currency: column.text(sql`d.currency`),
      cost: column.amount(sql`v.cost`),
      accumulated: column.amount(sql`v.accumulated`),
      carried: column.amount(sql`v.cost - v.accumulated`),
    },
    sums: ["cost", "accumulated", "carried"],
    counts: sql`d.status <> 'cancelled'`,
  });
export type AssetRow = RowOf<ReturnType<typeof registerOf>["columns"]>;

export const listAssets = defineUseCase({
  name: "listAssets",
  kind: "read",
  rights: ["read.assets"],
  what: "see assets",
  company: (i) => i.company,
  schema: listSchema.shape({
    book: string().default(""),
    on: dayField().required("The day is missing"),
  }),
  run: async (context, { book, on, ...asked }) => {
    const { bookByCode, mainBook } = context.masters;
    const found = book === "" ? mainBook : bookByCode.get(book);
    return found
      ? queryDocuments(context, registerOf(found.id, on), asked)
      : fail({ code: "NOT_FOUND", what: `book ${book.slice(0, 40)}`, field: "book" });
  },
});
