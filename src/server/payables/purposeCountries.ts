import { readSetting } from "../db";
import type { Context } from "../access";

export const PURPOSE_COUNTRIES = "payments.purposeCountries";

/** Countries (ISO 3166) to whose banks every transfer says what it is for. */
export const purposeCountries = async ({ tx }: Pick<Context, "tx">): Promise<string[]> =>
  (await readSetting<string[]>(tx, PURPOSE_COUNTRIES)) ?? [];
