import { LANGUAGE_NAMES, LETTER_LANGUAGES } from "@/core/letters";
import type { ReminderProcedure } from "@/core/receivables";
import type { RecordField, RecordValues } from "@/ui/form";

/** Levels that a form shows; those without days are none. */
const MOST = 5;
const LEVELS = Array.from({ length: MOST }, (_, i) => i + 1);
const PLACES = [
  ["opening", "begins with"],
  ["closing", "ends with"],
] as const;

const textKey = (level: number, language: string, place: string) =>
  `text${level}_${language}_${place}`;

/** The fields of a procedure: a line of four for each level, then texts of one language. */
export const levelFields = (currency: string): RecordField[] => [
  ...LEVELS.flatMap((n): RecordField[] => [
    {
      key: `days${n}`,
      label: n === 1 ? "Level 1: days after the due date" : `Level ${n}: days after level ${n - 1}`,
      kind: "figure",
    },
    { key: `fee${n}`, label: `Fee, ${currency}`, kind: "figure" },
    { key: `within${n}`, label: "To be paid within days", kind: "figure" },
    { key: `interest${n}`, label: "With interest", kind: "check" },
  ]),
  {
    key: "minimum",
    label: `Nothing is sent for less than, ${currency}`,
    kind: "figure",
  },
  { key: "invoiced", label: "Fees and interest are posted as an invoice", kind: "check" },
  {
    key: "language",
    label: "Texts in",
    kind: "select",
    options: LETTER_LANGUAGES.map((l) => ({ value: l, text: LANGUAGE_NAMES[l] })),
  },
  ...LEVELS.flatMap((n) =>
    LETTER_LANGUAGES.flatMap((language) =>
      PLACES.map(([place, says]): RecordField => ({
        key: textKey(n, language, place),
        label: `Level ${n} ${says}`,
        kind: "lines",
        wide: true,
      })),
    ),
  ),
];

/** Names of the fields that count: texts only of the language in hand and of levels there are. */
export function shownLevelFields(values: RecordValues): string[] {
  const there = LEVELS.filter((n) => String(values[`days${n}`] ?? "").trim() !== "");
  const texts = there.flatMap((n) =>
    PLACES.map(([place]) => textKey(n, String(values.language), place)),
  );
  return [
    "minimum",
    "invoiced",
    "language",
    ...LEVELS.flatMap((n) => ["days", "fee", "within", "interest"].map((key) => `${key}${n}`)),
    ...texts,
  ];
}

export function valuesOf(procedure: ReminderProcedure): RecordValues {
  const values: RecordValues = {
    minimum: procedure.minimum,
    invoiced: procedure.invoiced,
    language: "en",
  };
  for (const n of LEVELS) {
    const level = procedure.levels[n - 1];
    values[`days${n}`] = level ? String(level.days) : "";
    values[`fee${n}`] = level?.fee ?? "";
    values[`within${n}`] = level ? String(level.within) : "";
    values[`interest${n}`] = level?.interest ?? false;
    const texts = (level?.texts ?? {}) as Record<string, string>;
    for (const language of LETTER_LANGUAGES)
      for (const [place] of PLACES)
        values[textKey(n, language, place)] = texts[`${language}_${place}`] ?? "";
  }
  return values;
}

/** Levels that have days, in their order: the place of each in the form. */
const placesOf = (values: RecordValues): number[] =>
  LEVELS.filter((n) => String(values[`days${n}`] ?? "").trim() !== "");

/** The procedure as written, for its schema. */
export const procedureOf = (values: RecordValues) => ({
  minimum: String(values.minimum ?? "").trim() || "0",
  invoiced: values.invoiced === true,
  levels: placesOf(values).map((n) => ({
    days: String(values[`days${n}`]).trim(),
    fee: String(values[`fee${n}`] ?? "").trim() || "0",
    within: String(values[`within${n}`] ?? "").trim() || "7",
    interest: values[`interest${n}`] === true,
    texts: Object.fromEntries(
      LETTER_LANGUAGES.flatMap((language) =>
        PLACES.map(([place]) => [
          `${language}_${place}`,
          String(values[textKey(n, language, place)] ?? ""),
        ]),
      ),
    ),
  })),
});

/** The field of the form that a place in the procedure is. */
export function fieldOf(place: string | undefined, values: RecordValues): string {
  const level = /^(?:procedure\.)?levels\[(\d+)\]\.(?:(texts)\.)?(\w+)$/.exec(place ?? "");
  if (!level) return place === "levels" || place === undefined ? "days1" : place;
  const n = placesOf(values)[Number(level[1])] ?? 1;
  return level[2] ? `text${n}_${level[3]}` : `${level[3]}${n}`;
}
