import { array, boolean, number, object, string, type InferType } from "yup";
import { PIECES } from "./pieces";

/** Sheets that are known by name: tenths of a millimetre, upright. */
export const SHEETS = {
  A4: { width: 2100, height: 2970 },
  A5: { width: 1480, height: 2100 },
  letter: { width: 2159, height: 2794 },
  own: null,
} as const satisfies Record<string, { width: number; height: number } | null>;
export type Sheet = keyof typeof SHEETS;
export const SHEET_NAMES: Readonly<Record<Sheet, string>> = {
  A4: "A4",
  A5: "A5",
  letter: "Letter, 8.5 × 11 in",
  own: "A size of its own",
};

/** What becomes of the signature on a copy. */
export const COPY_SIGNATURES = ["left out", "struck out"] as const;

/** A length on paper: tenths of a millimetre. */
const length = (what: string, least = 0) =>
  number()
    .typeError(`${what} is a length in millimetres`)
    .integer(`${what} is exact to a tenth of a millimetre`)
    .min(least, `${what} is at least ${least / 10} mm`)
    .max(10_000, `${what} is at most 1000 mm`)
    .required(`${what} is missing`);

/** How a paper of a bank account looks. Lengths: tenths of a millimetre from its upper left corner. */
export const paperLayoutSchema = object({
  sheet: string()
    .oneOf(Object.keys(SHEETS) as Sheet[])
    .required(),
  width: length("The width of the paper", 500),
  height: length("The height of the paper", 400),
  pieces: array(
    object({
      piece: string().oneOf(PIECES).required(),
      x: length("The distance from the left"),
      y: length("The distance from the top"),
      width: length("The width", 10),
      height: length("The height", 10),
      /** Size of its letters, in points. */
      size: number()
        .typeError("The size of letters is a number of points")
        .min(5, "Letters have at least 5 points")
        .max(40, "Letters have at most 40 points")
        .required("The size of its letters is missing"),
    }),
  )
    .max(PIECES.length)
    .required(),
  /** Whether the paper is blank: then lines and captions are drawn too. */
  blank: boolean().default(true),
  /** Where the list of what it pays begins, from the top; null where there is none. */
  listFrom: length("Where the list begins").nullable().optional().default(null),
  /** What stands across a copy. */
  copyMark: string().trim().max(20).default("COPY"),
  copySignature: string().oneOf(COPY_SIGNATURES).default("left out"),
  /** Whether copies carry the magnetic line, which machines at a bank would read. */
  copyMagnetic: boolean().default(false),
  /** Whether numbers are read off the paper in hand, or go on from the last one by themselves. */
  numbers: string()
    .oneOf(["free", "series"] as const)
    .default("free"),
  /** Whether the number of a spoilt form is given again. */
  reuseSpoilt: boolean().default(false),
});
export type PaperLayout = InferType<typeof paperLayoutSchema>;
export type PlacedPiece = PaperLayout["pieces"][number];
