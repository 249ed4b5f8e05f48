import { number, object, string, type InferType } from "yup";

const points = (usual: number) =>
  number()
    .integer("Points are whole")
    .min(0, "Points are not negative")
    .max(100, "A part has at most 100 points")
    .default(usual);
const days = (usual: number) =>
  number().integer("Days are whole").min(1, "At least a day").max(730).default(usual);

/**
 * How a score is made for a group of customers: how many points each part has at most, and from what
 * on it has all of them. Set by the controller.
 */
export const scorePolicySchema = object({
  /** For how long the oldest is overdue. */
  late: points(25),
  lateDays: days(60),
  /** For how much there is to collect. */
  amount: points(20),
  /** From that amount on, in the company's currency. */
  amountFull: string()
    .trim()
    .matches(/^\d{1,12}(\.\d{1,3})?$/, "Write an amount like 50000")
    .default("50000"),
  /** For promises that were broken in half a year. */
  broken: points(15),
  brokenCount: number().integer().min(1, "At least one").max(20).default(2),
  /** For the credit grade: A has none, E all. */
  grade: points(10),
  /** For a limit that is nearly used: from three quarters on, all at the whole of it. */
  limit: points(10),
  /** For silence while something is overdue. */
  silent: points(10),
  silentDays: days(30),
  /** For a large item that falls due within a week. */
  soon: points(3),
  /** For a dispute that was solved within two weeks, and the item is still open. */
  solved: points(4),
  /** For paying later than in the half year before. */
  trend: points(3),
});
export type ScorePolicy = InferType<typeof scorePolicySchema>;

/** What holds where nobody has set anything else: a hundred points in all. */
export const usualPolicy = (): ScorePolicy => scorePolicySchema.cast({});

/** Days in which a broken promise counts. */
export const BROKEN_FOR = 180;
/** Days ahead in which a large item is soon due. */
export const SOON = 7;
/** Days for which a solved dispute is fresh. */
export const SOLVED_FOR = 14;
