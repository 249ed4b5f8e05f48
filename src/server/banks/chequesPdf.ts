import path from "node:path";
import { sql } from "drizzle-orm";
import { boolean, number, object } from "yup";
import { amountInWords, chequeLine, magneticLine } from "@/core/banks";
import { amountText, dateText, fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";
import type { RunPayment } from "./postedPayments";
import { lockRun } from "./chequeRuns";

interface PrintedCheque {
  id: bigint;
  number: bigint;
  payee: string;
  date: string;
  currency: string;
  amount: bigint;
  prints: number;
  key: string;
  state: string;
}

/** The cheques of a run as one PDF, a page each. What has come out before is marked as a copy. */
export const chequesPdf = defineUseCase({
  name: "chequesPdf",
  kind: "write",
  rights: ["post.payables"],
  what: "print cheques",
  of: "checked",
  schema: object({
    run: number().integer().required(),
    cheque: number().integer(),
    /** Only those not printed yet, or only those that were; all where nothing is said. */
    fresh: boolean(),
  }),
  run: async (context, input): Promise<Result<{ name: string; content: Uint8Array }>> => {
    const found = await lockRun(context, input.run);
    if (!found.ok) return found;
    const { tx } = context;
    const cheques = await rows<PrintedCheque>(
      tx,
      sql`select id, number, payee, date, currency, amount, prints, payment_key as key, state
        from cheque
        where run_id = ${input.run} and ${
          input.cheque
            ? sql`id = ${input.cheque}`
            : sql`state =
        'printed'`
        } ${input.fresh === undefined ? sql`` : sql`and (prints = 0) = ${input.fresh}`}
        order by number`,
    );
    if (cheques.length === 0) return fail({ code: "NOT_FOUND", what: "cheque to print" });
    const [bank] = await rows<{
      bankName: string;
      chequeSort: string;
      chequeAccount: string;
      signature: string;
      company: string;
    }>(
      tx,
      sql`select b.bank_name as "bankName", b.cheque_sort as "chequeSort",
        b.cheque_account as "chequeAccount", b.signature, c.name as company from bank_account b
        join company c on c.id = b.company_id where b.id = ${found.value.bankId}`,
    );
    const stubs = new Map(found.value.detail.payments.map((p) => [p.key, p]));
    const content = await draw(
      bank!,
      cheques.map((c) => ({
        ...c,
        amount: minor(c.amount),
        copy: c.prints > 0,
        void: c.state === "voided" || c.state === "cancelled",
        payment: stubs.get(c.key),
      })),
    );
    await tx.execute(
      sql`update cheque set prints = prints + 1
        where id = any(${arrayOf(cheques.map((c) => c.id))}::bigint[])`,
    );
    await context.audit({
      action: cheques.some((c) => c.prints > 0)
        ? "copies of cheques printed"
        : "cheques sent to the printer",
      kind: "run",
      recordId: input.run,
      label: found.value.number,
      companyId: found.value.companyId,
      after: { cheques: cheques.map((c) => Number(c.number)) },
    });
    return ok({ name: `${found.value.number}-cheques.pdf`, content });
  },
});

/**
 * The picture of a signature, where it can be read as one: a damaged picture leaves the line to be
 * signed by hand.
 */
function readable(base64: string): Buffer | null {
  const bytes = Buffer.from(base64, "base64");
  const [width, height] =
    bytes.length > 24 ? [bytes.readUInt32BE(16), bytes.readUInt32BE(20)] : [0, 0];
  // The end of a PNG is its IEND; what lacks it was cut off.
  return width > 0 &&
    height > 0 &&
    width <= 4000 &&
    height <= 4000 &&
    bytes.subarray(-12).includes("IEND")
    ? bytes
    : null;
}

type Drawn = Omit<PrintedCheque, "amount"> & {
  amount: Minor;
  copy: boolean;
  void: boolean;
  payment: RunPayment | undefined;
};

const INK = "#0d2b33";

/**
 * A4, the cheque in the upper third and the stub with what it pays below. The magnetic line is
 * drawn as shapes, so that it prints alike everywhere.
 */
async function draw(
  bank: {
    bankName: string;
    chequeSort: string;
    chequeAccount: string;
    signature: string;
    company: string;
  },
  cheques: readonly Drawn[],
): Promise<Uint8Array> {
  const { default: PDFDocument } = await import("pdfkit");
  const document = new PDFDocument({
    size: "A4",
    margin: 0,
    autoFirstPage: false,
    info: { Title: "Cheques", Creator: "Yellow Anchor" },
  });
  const fonts = path.join(process.cwd(), "node_modules", "@fontsource", "source-sans-3", "files");
  for (const [name, weight] of [
    ["text", 400],
    ["strong", 600],
  ] as const)
    document.registerFont(name, path.join(fonts, `source-sans-3-latin-${weight}-normal.woff`));
  const chunks: Buffer[] = [];
  document.on("data", (c: Buffer) => chunks.push(c));
  const done = new Promise<void>((resolve) => document.once("end", () => resolve()));
  const write = (
    text: string,
    x: number,
    y: number,
    size = 10,
    strong = false,
    options: object = {},
  ) =>
    document
      .font(strong ? "strong" : "text")
      .fontSize(size)
      .fillColor(INK)
      .text(text, x, y, { lineBreak: false, ...options });
  const signature = readable(bank.signature);
  for (const c of cheques) {
    document.addPage();
    write(bank.company, 42, 34, 13, true);
    write(bank.bankName, 42, 52, 9);
    write(`No. ${c.number}`, 460, 34, 11, true);
    write(dateText(c.date), 460, 52, 10);
    write("Pay", 42, 92, 9);
    write(c.payee, 74, 89, 13, true);
    document.moveTo(74, 107).lineTo(430, 107).lineWidth(0.5).strokeColor(INK).stroke();
    document.rect(442, 84, 110, 24).lineWidth(0.8).stroke();
    // Stars before the figures leave no room for another one.
    write(`***${amountText(c.amount, c.currency)} ${c.currency}`, 448, 90, 11, true);
    const words = `***${amountInWords(c.amount, c.currency)}***`;
    document
      .font("text")
      .fontSize(words.length > 110 ? 8 : 10)
      .fillColor(INK)
      .text(words, 42, 120, { width: 500, height: 26 });
    document.moveTo(380, 196).lineTo(552, 196).lineWidth(0.5).stroke();
    if (signature && !c.copy && !c.void) document.image(signature, 400, 154, { fit: [140, 40] });
    write("Authorised signature", 380, 199, 7.5);
    const line = magneticLine(chequeLine(Number(c.number), bank.chequeSort, bank.chequeAccount));
    if (!c.copy && !c.void)
      for (const s of line) document.rect(42 + s.x, 226 + s.y, s.width, s.height).fill("#000000");
    for (const [mark, shown] of [
      ["COPY", c.copy],
      ["VOID", c.void],
    ] as const)
      if (shown)
        document
          .save()
          .rotate(-12, { origin: [300, 140] })
          .font("strong")
          .fontSize(64)
          .fillColor("#b8402a")
          .fillOpacity(0.28)
          .text(mark, 200, 100, { lineBreak: false })
          .restore();
    document
      .fillOpacity(1)
      .moveTo(0, 262)
      .lineTo(595, 262)
      .dash(3, { space: 3 })
      .lineWidth(0.4)
      .strokeColor("#6d8790")
      .stroke()
      .undash();
    write(`Cheque ${c.number} of ${dateText(c.date)} to ${c.payee}`, 42, 286, 11, true);
    let y = 310;
    for (const [text, x] of [
      ["Your reference", 42],
      ["Settled", 300],
      ["Discount", 390],
      ["Paid", 480],
    ] as const)
      write(text, x, y, 9, true, x > 42 ? { width: 72, align: "right" } : {});
    y += 16;
    for (const i of c.payment?.items ?? []) {
      if (y > 790) {
        write("… the whole list is in the remittance advice", 42, y, 9);
        break;
      }
      write(i.reference.slice(0, 46), 42, y, 9);
      for (const [amount, x] of [
        [-i.taken, 300],
        [i.discount, 390],
        [-i.taken - i.discount, 480],
      ] as const)
        write(amountText(minor(amount), c.currency), x, y, 9, false, { width: 72, align: "right" });
      y += 14;
    }
    document
      .moveTo(42, y + 2)
      .lineTo(552, y + 2)
      .lineWidth(0.6)
      .strokeColor(INK)
      .stroke();
    write("Together", 42, y + 7, 9.5, true);
    write(`${amountText(c.amount, c.currency)} ${c.currency}`, 452, y + 7, 9.5, true, {
      width: 100,
      align: "right",
    });
  }
  document.end();
  await done;
  return new Uint8Array(Buffer.concat(chunks));
}
