import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { openFont } from "./openFont";

const packed = readFileSync(
  "node_modules/@fontsource/source-sans-3/files/source-sans-3-latin-400-normal.woff",
);
/** The sum of a table as OpenType defines it; that of the head without its own sum of the file. */
function sumOf(table: Buffer, tag: string): number {
  const padded = Buffer.concat([table, Buffer.alloc((4 - (table.length % 4)) % 4)]);
  if (tag === "head") padded.writeUInt32BE(0, 8);
  let sum = 0;
  for (let at = 0; at < padded.length; at += 4) sum = (sum + padded.readUInt32BE(at)) >>> 0;
  return sum;
}

test("a packed font is opened whole: each table has the sum that it names", () => {
  const font = openFont(packed);
  const tags = Array.from({ length: font.readUInt16BE(4) }, (_, i) => {
    const entry = 12 + i * 16;
    const tag = font.toString("latin1", entry, entry + 4);
    const [sum, at, length] = [4, 8, 12].map((o) => font.readUInt32BE(entry + o)) as [
      number,
      number,
      number,
    ];
    expect([tag, at % 4, sumOf(font.subarray(at, at + length), tag)]).toEqual([tag, 0, sum]);
    return tag;
  });
  expect(tags).toEqual(expect.arrayContaining(["cmap", "glyf", "head", "hmtx", "loca"]));
});

test("what is no such font, or is damaged, is refused", () => {
  expect(() => openFont(Buffer.from("no font at all, only words"))).toThrow(/no WOFF/);
  const damaged = Buffer.from(packed);
  damaged.writeUInt32BE(9, 44 + 12);
  expect(() => openFont(damaged)).toThrow();
});
