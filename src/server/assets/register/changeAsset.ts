import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { readCoding } from "@/core/ledger";
import { dateText, dayField, fail, ok, textRecord, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { registerAgain } from "../../documents";
import { chargedUpTo, holdAsset } from "./holdAsset";

/** Changes what is known of an asset and moves nothing: its description, serial number and so on. */
export const saveAsset = defineUseCase({
  name: "saveAsset",
  kind: "write",
  rights: ["prepare.assets"],
  what: "change assets",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    version: number().integer().required(),
    description: string().trim().required("A description is needed").max(200),
    serial: string().trim().max(80).default(""),
    warrantyTo: dayField(),
    insurance: string().trim().max(80).default(""),
    note: string().trim().max(500).default(""),
  }),
  run: async (context, input): Promise<Result<object>> => {
    const { tx, masters, person, now, audit } = context;
    const held = await holdAsset(context, input.id, input.version);
    if (!held.ok) return held;
    const asset = held.value;
    await tx.execute(sql`
      update asset set serial = ${input.serial}, warranty_to = ${input.warrantyTo ?? null}::date,
        insurance = ${input.insurance}, note = ${input.note}, version = version + 1,
        updated_by = ${person.id}, updated_at = ${now.toISOString()}
      where document_id = ${asset.id}`);
    await registerAgain(tx, [
      {
        id: asset.id,
        kind: "asset",
        number: asset.number,
        companyId: asset.companyId,
        date: asset.inService,
        amount: asset.amount as never,
        currency: masters.companyById.get(asset.companyId)!.currency,
        title: input.description,
        words: input.serial,
      },
    ]);
    await audit({
      action: "changed",
      kind: "asset",
      recordId: String(asset.id),
      label: asset.number,
      companyId: asset.companyId,
      after: input,
    });
    return ok({});
  },
});

/** Says who uses an asset where, from a day on: what is charged then goes to that coding. */
export const moveAsset = defineUseCase({
  name: "moveAsset",
  kind: "write",
  rights: ["prepare.assets"],
  what: "move assets",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    version: number().integer().required(),
    from: dayField().required("Say from which day on"),
    place: string().trim().max(80).default(""),
    person: string().trim().max(80).default(""),
    dimensions: textRecord(),
  }),
  run: async (context, input): Promise<Result<object>> => {
    const { tx, masters, person, now, audit } = context;
    const held = await holdAsset(context, input.id, input.version);
    if (!held.ok) return held;
    const asset = held.value;
    const { found: problems } = readCoding(masters, null, input.dimensions, { date: input.from });
    if (input.from < asset.inService)
      problems.push({
        code: "INVALID",
        what: `It is in use from ${dateText(asset.inService)} on`,
        field: "from",
      });
    const charged = await chargedUpTo(tx, asset.id);
    if (charged !== null && input.from <= charged)
      problems.push({
        code: "INVALID",
        what: `It has been charged up to ${dateText(charged)}; move it from a later day on, or reverse that run first`,
        field: "from",
      });
    const [first, ...others] = problems;
    if (first) return fail(first, ...others);
    const dimensions = Object.fromEntries(
      Object.entries(input.dimensions).filter(([, value]) => value !== ""),
    );
    await tx.execute(sql`
      insert into asset_place (asset_id, "from", dimensions, place, person, made_by, made_at)
      values (${asset.id}, ${input.from}, ${JSON.stringify(dimensions)}::jsonb, ${input.place},
        ${input.person}, ${person.id}, ${now.toISOString()})
      on conflict (asset_id, "from") do update set dimensions = excluded.dimensions,
        place = excluded.place, person = excluded.person, made_by = excluded.made_by,
        made_at = excluded.made_at`);
    await tx.execute(
      sql`update asset set version = version + 1, updated_by = ${person.id},
        updated_at = ${now.toISOString()} where document_id = ${asset.id}`,
    );
    await audit({
      action: "moved",
      kind: "asset",
      recordId: String(asset.id),
      label: asset.number,
      companyId: asset.companyId,
      after: { ...input, dimensions },
    });
    return ok({});
  },
});
