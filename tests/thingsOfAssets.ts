import { listIntake, fillIntake, changeEstimate, saveAssetClass } from "../src/server/assets";
import { rows, type Database } from "../src/server/db";
import { sql } from "drizzle-orm";
import { createInvoice } from "../src/server/payables";
import { savePartner } from "../src/server/partners";
import { postRun, proposeRun } from "../src/server/runs";
import { saveTaxCode } from "../src/server/taxes";
import { callerOf, must } from "./world";

/** A depreciation of five years, as a form writes it. */
export const FIVE_YEARS = {
  method: "straight line",
  convention: "full month",
  life: "5 years",
  residual: "0",
  rate: "",
  switches: false,
  percents: "",
  units: "",
};
export const CRANES = {
  code: "CRANE",
  name: "Cranes",
  cost: "1075",
  accumulated: "1076",
  charge: "8030",
  clearing: "1088",
  gain: "4530",
  loss: "8070",
  threshold: "500",
  needs: ["costCentre"],
  common: FIVE_YEARS,
  own: { TAX: { ...FIVE_YEARS, method: "declining balance", rate: "40", switches: true } },
};

/** A class of assets, one of Alpha's assets with another estimate, and a line that waits for one. */
export async function thingsOfAssets(database: Database): Promise<{
  asset: { id: number; number: string; version: number };
  line: { id: number; version: number };
}> {
  const root = await callerOf(database, "root");
  const clerk = await callerOf(database, "assets");
  must(await saveAssetClass(clerk, CRANES));
  must(
    await saveTaxCode(root, {
      code: "NIL",
      name: "None",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  must(
    await savePartner(root, {
      code: "YARD",
      name: "Crane yard",
      supplier: true,
      country: "IE",
    }),
  );
  const line = (description: string) => ({
    account: "1088",
    dimensions: { costCentre: "HARB" },
    net: "6,000.00",
    taxCode: "NIL",
    description,
  });
  must(
    await createInvoice(await callerOf(database, "payables"), {
      company: "ALP",
      supplier: "YARD",
      number: "CR-1",
      date: "2026-10-02",
      lines: [line("Crane"), line("Spare hook")],
      post: true,
    }),
  );
  const { lines } = must(await listIntake(clerk, { company: "ALP" }));
  const [crane, hook] = ["Crane", "Spare hook"].map((d) =>
    lines.find((l) => l.source.description === d),
  );
  must(
    await fillIntake(clerk, {
      company: "ALP",
      lines: [{ id: crane!.id, version: crane!.version }],
      content: { inService: "2026-10-05" },
    }),
  );
  const run = must(
    await proposeRun(clerk, {
      kind: "asset-intake",
      params: { company: "ALP", date: "2026-10-06" },
    }),
  );
  must(await postRun(clerk, { key: String(run.id) }));
  const [asset] = await rows<{ id: number; number: string }>(
    database.db,
    sql`select id::int as id, number from document where kind = 'asset' order by id desc limit 1`,
  );
  must(
    await changeEstimate(clerk, {
      id: asset!.id,
      version: 1,
      from: "2026-11-01",
      rule: { ...FIVE_YEARS, life: "8 years" },
      reason: "It lasts longer",
    }),
  );
  return {
    asset: { ...asset!, version: 2 },
    line: { id: hook!.id, version: hook!.version },
  };
}
