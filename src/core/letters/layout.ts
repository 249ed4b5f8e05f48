import { boolean, object, string, type InferType } from "yup";
import { LETTER_KINDS, LETTER_LANGUAGES, usualOpening } from "./language";
import type { LetterKind, LetterLanguage } from "./language";

/** A logo has at most this many characters of base64: some 300 kB. */
export const MOST_LOGO = 400_000;

/** The openings and closings of a company's own, by "order.en": empty where the usual one stands. */
const ownTexts = object(
  Object.fromEntries(
    LETTER_KINDS.flatMap((kind) =>
      LETTER_LANGUAGES.flatMap((language) => [
        [`${kind}_${language}_opening`, string().trim().max(600).default("")],
        [`${kind}_${language}_closing`, string().trim().max(600).default("")],
      ]),
    ),
  ),
);

/** How the letters of a company look: set up once, for every paper that goes out. */
export const letterLayoutSchema = object({
  company: string().required(),
  /** A PNG or JPEG in base64, without what goes before it; empty: the name stands in its place. */
  logo: string()
    .default("")
    .max(MOST_LOGO, "The logo is larger than 300 kB")
    .test(
      "picture",
      "A logo is a PNG or a JPEG",
      (text) => !text || text.startsWith("iVBORw0KGgo") || text.startsWith("/9j/"),
    ),
  /** Whether the window of the envelope is at the right. */
  windowRight: boolean().default(false),
  /** The line above the address, which shows in the window: usually name and address. */
  senderLine: string().trim().max(120).default(""),
  /** "Commercial register of Ostry, 4481". */
  register: string().trim().max(120).default(""),
  contact: string().trim().max(80).default(""),
  telephone: string().trim().max(40).default(""),
  email: string()
    .trim()
    .max(120)
    .matches(/^$|^[^\s@]+@[^\s@]+\.[^\s@]+$/, "This is no e-mail address")
    .default(""),
  website: string().trim().max(120).default(""),
  /** Where what is ordered is to come, a line each; empty: the company's address. */
  deliverTo: string().trim().max(300).default(""),
  texts: ownTexts,
});
export type LetterLayout = InferType<typeof letterLayoutSchema>;

export const noLayout = (company: string): LetterLayout =>
  letterLayoutSchema.cast({ company, texts: {} });

/** What a letter begins or ends with: the company's own text, or the usual one. */
export function letterText(
  layout: Pick<LetterLayout, "texts">,
  kind: LetterKind,
  language: LetterLanguage,
  place: "opening" | "closing",
): string {
  const own = (layout.texts as Record<string, string>)[`${kind}_${language}_${place}`] ?? "";
  return own || (place === "opening" ? usualOpening(kind, language) : "");
}
