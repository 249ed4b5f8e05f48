/**
 * The dimension values of a line, by slot. Its key is canonical (slots ascending, "1:12,2:7"), so
 * equal codings have equal keys.
 */
export type Coding = readonly { slot: number; valueId: number }[];

export const codingKey = (coding: Coding): string =>
  [...coding]
    .sort((a, b) => a.slot - b.slot)
    .map((c) => `${c.slot}:${c.valueId}`)
    .join(",");

export const codingFromKey = (key: string): Coding =>
  key === ""
    ? []
    : key
        .split(",")
        .map((part) => ({ slot: Number(part.split(":")[0]), valueId: Number(part.split(":")[1]) }));
