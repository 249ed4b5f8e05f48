import { dateText, type CalendarDate } from "../shared";
import { ASSET_FACT_NAMES, type AssetClass } from "./assetClass";

/** What is to become of a line of the intake. */
export const INTO = ["asset", "addition", "correction", "expense"] as const;
export type Into = (typeof INTO)[number];
export const INTO_NAMES: Readonly<Record<Into, string>> = {
  asset: "A new asset",
  addition: "More of an asset, from a day on",
  correction: "Another cost of an asset, from its beginning",
  expense: "Expense",
};

/** What people have written of a line in the intake, in the standard way of writing. */
export interface IntakeContent {
  into?: Into;
  class?: string;
  description?: string;
  inService?: CalendarDate;
  quantity?: string;
  serial?: string;
  place?: string;
  person?: string;
  dimensions?: Record<string, string>;
  /** Number of the asset that it belongs to, where it is not a new one. */
  asset?: string;
  /** The account of the expense. */
  account?: string;
}

/** A line of the intake with what is proposed where nothing was written. */
export interface IntakeProposal extends IntakeContent {
  into: Into;
  class: string;
  description: string;
  dimensions: Record<string, string>;
}

/** What a line brings along from the paper that it was booked by. */
export interface IntakeSource {
  account: string;
  description: string;
  dimensions: Record<string, string>;
  /** When it was bought: the day of its supply, or of its paper. */
  bought: CalendarDate;
}

/**
 * What is proposed for a line: the class whose clearing or cost account it stands on, where that is
 * one alone, or the class of the last line like it; its text and coding as they were booked.
 */
export function proposedFor(
  content: IntakeContent,
  source: IntakeSource,
  classes: readonly AssetClass[],
  usual: string | undefined,
): IntakeProposal {
  const fitting = classes.filter(
    (c) =>
      !c.blocked && (c.accounts.clearing === source.account || c.accounts.cost === source.account),
  );
  const known = fitting.find((c) => c.code === usual) ?? (fitting.length === 1 ? fitting[0] : null);
  return {
    ...content,
    into: content.into ?? "asset",
    class: content.class || known?.code || "",
    description: content.description || source.description,
    dimensions: { ...source.dimensions, ...content.dimensions },
  };
}

/** What a line still needs before it is taken in, in words; nothing where it is complete. */
export function missingOf(
  line: IntakeProposal,
  source: IntakeSource,
  classOf: AssetClass | undefined,
  dimensions: readonly { code: string; name: string }[],
): string[] {
  if (line.into === "expense") return line.account ? [] : ["account of the expense"];
  if (line.into !== "asset") {
    if (!line.asset) return ["number of the asset"];
    return line.into === "addition" && !line.inService ? ["from when on it counts"] : [];
  }
  const missing: string[] = [];
  if (!classOf || classOf.blocked) missing.push("class");
  if (!line.description.trim()) missing.push("description");
  if (!line.inService) missing.push("in service from");
  else if (line.inService < source.bought)
    missing.push(`in service after it was bought on ${dateText(source.bought)}`);
  for (const need of classOf?.needs ?? []) {
    const dimension = dimensions.find((d) => d.code === need);
    const isThere = dimension
      ? line.dimensions[need]?.trim()
      : line[need as keyof typeof ASSET_FACT_NAMES]?.trim();
    if (!isThere)
      missing.push(
        (dimension?.name ?? ASSET_FACT_NAMES[need as keyof typeof ASSET_FACT_NAMES]).toLowerCase(),
      );
  }
  return missing;
}
