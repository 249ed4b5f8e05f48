import { CURRENCIES } from "@/core/shared";
import type { Option } from "./Choice";

/** All currencies, those in use first. */
export function currencyOptions(inUse: readonly string[]): Option[] {
  const first = [...new Set(inUse)].sort();
  const others = CURRENCIES.filter((c) => !first.includes(c));
  return [...first, ...others].map((c) => ({ value: c, text: c }));
}
