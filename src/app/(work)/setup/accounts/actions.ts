"use server";
import { loadChart, loadDimensionValues } from "@/server/organisation";
import { loadOpening } from "@/server/ledger";
import { loadRates } from "@/server/rates";
import type { UseCase } from "@/server/access";
import { answer, type Answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";
import { MAX_FILE, readTable } from "@/server/files";

type Counts = { added: number; changed: number; same: number };

async function load(form: FormData, work: UseCase<Counts>, more: Record<string, unknown> = {}): Promise<Answer<Counts>> {
  const file = form.get("file");
  if (!(file instanceof File) || file.size === 0) return answer({ ok: false, problems: [{ code: "REQUIRED", what: "A file" }] });
  if (file.size > MAX_FILE) return answer({ ok: false, problems: [{ code: "INVALID", what: `The file is larger than ${MAX_FILE / 1_048_576} MB` }] });
  const table = await readTable(file.name, new Uint8Array(await file.arrayBuffer()));
  if (!table.ok) return answer(table);
  return answer(await work(await actionCaller(), { rows: table.value, take: form.get("take") === "1", ...more }));
}

export const loadChartAction = async (form: FormData): Promise<Answer<Counts>> => load(form, loadChart);
export const loadValuesAction = async (dimension: string, form: FormData): Promise<Answer<Counts>> => load(form, loadDimensionValues, { dimension });
export const loadOpeningAction = async (company: string, date: string, form: FormData): Promise<Answer<Counts>> => load(form, loadOpening, { company, date });
export const loadRatesAction = async (form: FormData): Promise<Answer<Counts>> => load(form, loadRates);
