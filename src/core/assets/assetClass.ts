import type { DepreciationRule } from "./rule";

/** The accounts of a class, by number; empty where it needs none. */
export interface AssetAccounts {
  cost: string;
  accumulated: string;
  /** The expense that depreciation is charged to. */
  charge: string;
  /** Where what is bought for it waits until it is taken in. */
  clearing: string;
  gain: string;
  loss: string;
}

/**
 * How the books depreciate: one rule for all of them, and another for each book that differs. What
 * belongs to all is charged once, on journals of all books; a book with a rule of its own adds the
 * difference on journals of its own.
 */
export interface DepreciationRules {
  common: DepreciationRule;
  /** By the code of the book. */
  own: Readonly<Record<string, DepreciationRule>>;
}

export interface AssetClass {
  code: string;
  name: string;
  /** The class that it lies under. */
  parent: string;
  accounts: AssetAccounts;
  rules: DepreciationRules;
  threshold: string;
  needs: readonly string[];
  blocked: boolean;
}

/** Facts that a class can want besides dimensions. */
export const ASSET_FACTS = ["place", "person", "serial"] as const;
export const ASSET_FACT_NAMES: Readonly<Record<(typeof ASSET_FACTS)[number], string>> = {
  place: "Place",
  person: "Person in charge",
  serial: "Serial number",
};

/** The rule of a book: its own, or the one of all. */
export const ruleOf = (rules: DepreciationRules, book: string): DepreciationRule =>
  rules.own[book] ?? rules.common;
