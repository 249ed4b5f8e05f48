import { array, boolean, number, object, string, type InferType } from "yup";
import { LETTER_LANGUAGES } from "../../letters";
import { exponentOf, proportion, type Minor } from "../../shared";

/** An amount in the company's currency, as it is typed in the standard way. */
const amount = (usual: string) =>
  string()
    .trim()
    .matches(/^\d{1,9}(\.\d{1,3})?$/, "Write an amount like 40 or 12.50")
    .default(usual);

/** Texts of a level by language, "en_opening": empty where the usual one stands. */
const texts = object(
  Object.fromEntries(
    LETTER_LANGUAGES.flatMap((language) =>
      ["opening", "closing"].map((place) => [
        `${language}_${place}`,
        string().trim().max(1000, "A text has at most 1,000 characters").default(""),
      ]),
    ),
  ),
);

/** One level of reminding: when it comes, what it charges, what it says. */
export const reminderLevelSchema = object({
  /** Of the first: days after the due date; of the others, after the level before. */
  days: number()
    .integer("Days are whole")
    .min(1, "At least a day")
    .max(180, "At most 180 days")
    .required("Say after how many days"),
  fee: amount("0"),
  /** Whether interest is charged from the due date on. */
  interest: boolean().default(false),
  /** Days from the letter within which it is to be paid. */
  within: number().integer("Days are whole").min(1, "At least a day").max(60).default(7),
  texts,
});
export type ReminderLevel = InferType<typeof reminderLevelSchema>;

/** How customers of a group are reminded. */
export const reminderProcedureSchema = object({
  /** Nothing is sent for less, in the company's currency. */
  minimum: amount("20"),
  /** Whether fees and interest are posted as an invoice; else the letter only asks for them. */
  invoiced: boolean().default(false),
  levels: array(reminderLevelSchema.required())
    .min(1, "There is at least one level")
    .max(5, "There are at most five levels")
    .required(),
});
export type ReminderProcedure = InferType<typeof reminderProcedureSchema>;

/**
 * An amount of a procedure in a company's currency, in its minor units: a group reaches over companies,
 * and one without decimals has it rounded, half up.
 *
 * @example procedureAmount("12.50", "JPY") // 13n
 */
export function procedureAmount(text: string, currency: string): Minor {
  const [whole = "0", part = ""] = text.split(".");
  const thousandths = BigInt(whole + part.padEnd(3, "0").slice(0, 3));
  return proportion(thousandths, 10n ** BigInt(exponentOf(currency)), 1000n);
}

/** What holds where nothing has been set: three levels, the last with the law's fee and interest. */
export const usualReminders = (): ReminderProcedure =>
  reminderProcedureSchema.cast({
    levels: [
      { days: 7, texts: {} },
      { days: 14, texts: {} },
      { days: 14, fee: "40", interest: true, texts: {} },
    ],
  });
