"use server";
import { loadChart, loadDimensionValues } from "@/server/organisation";
import { loadOpening } from "@/server/ledger";
import { loadRates } from "@/server/rates";
import type { Answer } from "@/app/lib/answer";
import { loadRowsFromFile, type Counts } from "@/app/lib/loadFile";

export const loadChartAction = async (form: FormData): Promise<Answer<Counts>> =>
  loadRowsFromFile(form, loadChart);
export const loadValuesAction = async (
  dimension: string,
  form: FormData,
): Promise<Answer<Counts>> => loadRowsFromFile(form, loadDimensionValues, { dimension });
export const loadOpeningAction = async (
  company: string,
  date: string,
  form: FormData,
): Promise<Answer<Counts>> => loadRowsFromFile(form, loadOpening, { company, date });
export const loadRatesAction = async (form: FormData): Promise<Answer<Counts>> =>
  loadRowsFromFile(form, loadRates);
