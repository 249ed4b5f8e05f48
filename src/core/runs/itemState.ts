import type { ItemState, RunItem } from "./types";

/** Whether an item is part of the run: dropped by hand, waiting for an amount, or left out. */
export function itemState(item: RunItem, dropped: ReadonlySet<string>): ItemState {
  if (dropped.has(item.key)) return "dropped";
  if (item.leftOut === undefined) return "in";
  return item.asks?.some((a) => a.given === "" && !a.optional) ? "waiting" : "out";
}
