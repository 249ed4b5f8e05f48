import type { PaperLayout } from "@/core/banks";
import { amountText, minor } from "@/core/shared";
import { INK, type Pen } from "../../files";

/** What a paper pays: minor units, each as it is shown. */
export interface PaidList {
  title: string;
  currency: string;
  items: readonly { reference: string; settled: bigint; discount: bigint; paid: bigint }[];
  total: bigint;
}

const UNIT = 7.2 / 25.4;
const LEFT = 150 * UNIT;
const STEP = 14;

/** The part below a paper that its receiver keeps: each item with what was taken and paid. */
export function drawList(
  document: PDFKit.PDFDocument,
  pen: Pen,
  layout: PaperLayout,
  list: PaidList,
): void {
  const width = layout.width * UNIT;
  const right = width - LEFT;
  const from = layout.listFrom! * UNIT;
  const last = layout.height * UNIT - 52;
  document
    .moveTo(0, from)
    .lineTo(width, from)
    .dash(3, { space: 3 })
    .lineWidth(0.4)
    .strokeColor("#6d8790")
    .stroke()
    .undash();
  pen.write(list.title, LEFT, from + 22, { strong: true, size: 11 });
  const column = Math.min(85, (right - LEFT) / 5);
  const put = (text: string, n: number, y: number, strong = false) =>
    pen.write(text, right - (2 - n) * column - pen.widthOf(text, strong, 9), y, {
      size: 9,
      strong,
    });
  let y = from + 46;
  pen.write("Your reference", LEFT, y, { size: 9, strong: true });
  ["Settled", "Discount", "Paid"].forEach((heading, n) => put(heading, n, y, true));
  y += 16;
  for (const i of list.items) {
    if (y > last) {
      pen.write("… the whole list is in the remittance advice", LEFT, y, { size: 9 });
      y += STEP;
      break;
    }
    const [reference = ""] = pen.lines(i.reference, right - 3 * column - LEFT - 6, { size: 9 });
    pen.write(reference, LEFT, y, { size: 9 });
    [i.settled, i.discount, i.paid].forEach((amount, n) =>
      put(amountText(minor(amount), list.currency), n, y),
    );
    y += STEP;
  }
  pen.rule(LEFT, y + 2, right - LEFT, 0.6, INK);
  pen.write("Total", LEFT, y + 7, { size: 9.5, strong: true });
  put(`${amountText(minor(list.total), list.currency)} ${list.currency}`, 2, y + 7, true);
}
