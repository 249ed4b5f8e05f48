import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../../shared";
import {
  movePiece,
  PAPER_KINDS,
  paperLayoutSchema,
  paperWords,
  piecesOf,
  problemsOfLayout,
  usualLayout,
  type PaperLayout,
} from "./index";

const without = (layout: PaperLayout, piece: string): PaperLayout => ({
  ...layout,
  pieces: layout.pieces.filter((p) => p.piece !== piece),
});
const moved = (layout: PaperLayout, piece: string, at: object): PaperLayout => ({
  ...layout,
  pieces: layout.pieces.map((p) => (p.piece === piece ? { ...p, ...at } : p)),
});
const said = (kind: "cheque" | "bill" | "note", layout: PaperLayout) =>
  problemsOfLayout(kind, layout).map((p) => p.what);

describe("layouts of cheques, bills and notes", () => {
  test.each(PAPER_KINDS)("the usual %s can be used as it is", (kind) => {
    expect(problemsOfLayout(kind, usualLayout(kind))).toEqual([]);
    expect(paperLayoutSchema.isValidSync(usualLayout(kind))).toBe(true);
  });

  test("what the law wants on a bill cannot be left out, unless the paper says it already", () => {
    const bill = without(usualLayout("bill"), "dueDate");
    expect(said("bill", bill)).toEqual([
      "Due date is missing: no bill of exchange is one without it",
    ]);
    expect(said("bill", { ...bill, blank: false })).toEqual([]);
    expect(said("note", without(usualLayout("note"), "drawee"))).toEqual([]);
  });

  test.each([
    [{ x: 1700 }, "Payee goes over the right edge of the paper"],
    [{ y: 800 }, "Payee lies in the band of the magnetic line, which has to be clear"],
    [{ y: 900 }, "Payee lies where the list of what is paid begins"],
  ])("a payee at %o is refused", (at, what) =>
    expect(said("cheque", moved(usualLayout("cheque"), "payee", at))).toContain(what),
  );

  test("a piece of another kind of paper, and one that is there twice, are refused", () => {
    const cheque = usualLayout("cheque");
    const twice = { ...cheque, pieces: [...cheque.pieces, cheque.pieces[0]!] };
    expect(said("cheque", twice)).toEqual(["Company is there twice"]);
    const bill = usualLayout("bill").pieces.find((p) => p.piece === "drawee")!;
    expect(
      said("cheque", { ...cheque, listFrom: null, pieces: [...cheque.pieces, bill] }),
    ).toContain("Drawee is nothing that stands on a cheque");
  });

  test("whatever is moved wherever stays on the paper, and lies on a millimetre or in line with another", () => {
    const layout = usualLayout("cheque");
    const any = fc.integer({ min: -4000, max: 4000 });
    fc.assert(
      fc.property(fc.constantFrom(...layout.pieces), any, any, fc.boolean(), (p, x, y, snap) => {
        const to = movePiece(layout, p.piece, { x, y }, snap)!;
        expect(to.x >= 0 && to.x + to.width <= layout.width).toBe(true);
        expect(to.y >= 0 && to.y + to.height <= layout.height).toBe(true);
        if (!snap || x === 0) return;
        const edges = layout.pieces.flatMap((o) => (o === p ? [] : [o.x, o.x + o.width]));
        const lies = [to.x, to.x + to.width].some((e) => edges.includes(e));
        expect(lies || to.x % 10 === 0 || to.x === layout.width - to.width).toBe(true);
      }),
    );
  });

  test("a piece jumps to the nearest edge of another one", () => {
    const layout = usualLayout("cheque");
    // The date begins 3 mm left of the number; moved by 2.2 mm it is in line with it.
    const shifted = moved(layout, "date", { x: 1590 });
    expect(movePiece(shifted, "date", { x: 22, y: 0 }, true)).toMatchObject({ x: 1620, y: 180 });
    expect(movePiece(shifted, "date", { x: 22, y: 0 }, false)).toMatchObject({ x: 1612 });
  });

  test("every piece of words says something of its paper", () => {
    for (const kind of PAPER_KINDS) {
      const words = paperWords({
        kind,
        company: "Hollin Sound Ferries",
        bankName: "Merrow Bank",
        number: "1041",
        place: "Ostry",
        date: "2026-11-05",
        dueDate: "2027-02-03",
        payee: "Corrow Shipyard",
        drawee: "Sable Tours",
        payableAt: "Merrow Bank, Ostry",
        purpose: "Invoice 4711",
        amount: minor(123_456n),
        currency: "EUR",
      });
      const silent = piecesOf(kind).filter((p) => !words[p]);
      expect(
        silent.filter((p) => !["logo", "acceptance", "signature", "magnetic"].includes(p)),
      ).toEqual([]);
      expect([words.figures, words.words]).toEqual([
        "***1,234.56 EUR",
        "***One thousand two hundred and thirty-four and 56/100 EUR***",
      ]);
    }
  });
});
