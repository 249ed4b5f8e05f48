import { sql } from "drizzle-orm";
import type { DepreciationRules } from "@/core/assets";
import { minor, type CalendarDate } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, insertAll, schema } from "../../db";
import { documentLinks, register, takeNumbers } from "../../documents";
import { loadYears } from "../../organisation";

/** An asset that is made: of a run, or taken over from other books. */
export interface AssetToMake {
  companyId: number;
  classId: number;
  /** As it had before; the next of the series where none is said. */
  number?: string;
  title: string;
  /** The number of the asset that it is a part of: one that is there, or made with it. */
  main?: string;
  inService: CalendarDate;
  rules: DepreciationRules;
  quantity: string;
  unit?: string;
  serial: string;
  place: string;
  person: string;
  dimensions: Readonly<Record<string, string>>;
  warrantyTo?: CalendarDate | null;
  insurance?: string;
  note?: string;
  /** What it costs, in functional minor units. */
  amount: string;
}

/**
 * Puts assets in the register, each with its number and who uses it from its first day on; gives
 * their identities in the same order. What they cost is listed by whoever makes them.
 */
export async function makeAssets(
  context: Context,
  assets: readonly AssetToMake[],
  from: { run: number | null; date: CalendarDate },
): Promise<number[]> {
  if (assets.length === 0) return [];
  const { tx, masters, person, now } = context;
  const years = await loadYears(tx, [...new Set(assets.map((a) => a.companyId))]);
  const yearOf = (companyId: number) => {
    const own = years.filter((y) => y.companyId === companyId);
    const found = own.find((y) => y.start <= from.date && from.date <= y.end) ?? own.at(-1)!;
    return { id: found.id, name: found.name };
  };
  const unnamed = assets.filter((a) => !a.number);
  const taken = await takeNumbers(
    tx,
    unnamed.map((a) => ({
      series: "asset",
      company: masters.companyById.get(a.companyId)!,
      year: yearOf(a.companyId),
    })),
  );
  let next = 0;
  const ids = await register(
    context,
    assets.map((a) => ({
      kind: "asset" as const,
      number: a.number ?? taken[next++]!.number,
      companyId: a.companyId,
      date: a.inService,
      amount: minor(BigInt(a.amount)),
      currency: masters.companyById.get(a.companyId)!.currency,
      title: a.title,
      words: [a.serial, a.place, a.person].filter(Boolean).join(" "),
      status: "active" as const,
    })),
  );
  await insertAll(
    tx,
    schema.asset,
    assets.map((a, i) => ({
      documentId: ids[i]!,
      companyId: a.companyId,
      classId: a.classId,
      inService: a.inService,
      rules: a.rules,
      quantity: thousandths(a.quantity),
      unit: a.unit ?? "",
      serial: a.serial,
      warrantyTo: a.warrantyTo ?? null,
      insurance: a.insurance ?? "",
      note: a.note ?? "",
      updatedBy: person.id,
      updatedAt: now,
    })),
  );
  await insertAll(
    tx,
    schema.assetPlace,
    assets.map((a, i) => ({
      assetId: ids[i]!,
      from: a.inService,
      dimensions: { ...a.dimensions },
      place: a.place,
      person: a.person,
      madeBy: person.id,
      madeAt: now,
    })),
  );
  const parts = assets.flatMap((a, i) => (a.main ? [{ id: ids[i]!, main: a.main }] : []));
  if (parts.length > 0)
    await tx.execute(sql`
      update asset a set main_id = d.id
      from unnest(${arrayOf(parts.map((p) => p.id))}::bigint[],
          ${arrayOf(parts.map((p) => p.main))}::text[]) as x(id, main)
        join document d on d.kind = 'asset' and d.number = x.main
      where a.document_id = x.id`);
  if (from.run !== null)
    await documentLinks(
      tx,
      "made",
      ids.map((id) => [from.run!, id] as const),
    );
  await tx.execute(sql`
    insert into audit_event (at, person_id, action, kind, record_id, label, company_id)
    select ${now.toISOString()}::timestamptz, ${person.id}, 'taken in', 'asset', d.id::text,
      d.number, d.company_id from document d where d.id = any(${arrayOf(ids)}::bigint[])
      order by d.id`);
  return ids;
}

/** A quantity as typed, in thousandths; one where nothing is said. */
function thousandths(quantity: string): bigint {
  const [whole = "0", part = ""] = (quantity.trim() || "1").split(".");
  return BigInt((whole || "0") + part.padEnd(3, "0").slice(0, 3));
}
