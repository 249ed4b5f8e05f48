import { Key } from "selenium-webdriver";
import { describe, inject, test } from "vitest";
import { browserFor } from "./browserFor";

const base = inject("demo");
const october = "company=HSF&book=IFRS&period=2026-10";
const { d } = await browserFor(base);

const { cell } = d;
/** A manual journal on the suppliers' account, by keyboard. */
async function enter(description: string, side: "debit" | "credit", amount: string): Promise<void> {
  await d.open(`/ledger/journals/new?${october}`);
  await d.field("head-description", description);
  await d.field("head-reference", description.toUpperCase().replaceAll(" ", "-"));
  await cell("0:account");
  await d.press("2140", Key.ENTER);
  await cell("0:partner");
  await d.press("brannoch", Key.ENTER, "20 Oct 2026", Key.ENTER);
  await cell(`0:${side}`);
  await d.press(amount, Key.ENTER);
  await cell("1:account");
  await d.press("2440", Key.ENTER);
  await cell(`1:${side === "debit" ? "credit" : "debit"}`);
  await d.press(amount, Key.ENTER);
  await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
  await d.see("//h1[starts-with(., 'HSF-26-')]");
}

describe("invoices", () => {
  test("by keyboard: held against the paper, a copy is pointed out, posted, due in the supplier's items, taxed, and cancelled", async () => {
    await d.signIn("payables");
    await d.open("/payables/invoices/new?company=HSF&book=IFRS&period=2026-11");
    await (await d.see("//*[@id='i-supplier']")).sendKeys("S-103");
    await d.text("Tarn Rope & Chain");
    await d.field("i-number", "tr 4471");
    await d.field("i-date", "4 Nov 2026");
    await d.field("i-total", "615");
    await cell("0:net");
    await d.press("400", Key.ENTER);
    await d.see("//div[starts-with(., 'Differs from the paper')][contains(., '123.00')]");
    await cell("0:net");
    await d.press("=", Key.ENTER);
    await cell("0:net");
    await d.press("500", Key.ENTER);
    await d.see("//*[@role='alert'][contains(., 'There already')][contains(., 'TR-4471')]");
    await d.kept();
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//*[@id='i-number-problem'][contains(., 'A supplier gives a number once')]");
    await d.field("i-number", "TR-4502");
    await d.see("//div[starts-with(., 'Agrees with the paper')]");
    await d.kept();
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    const number = await (await d.see("//h1[starts-with(., 'HSF-26-P')]")).getText();
    await d.open("/payables/suppliers/S-103?company=HSF&book=IFRS&period=2026-11");
    await d.see("//tr[contains(., 'TR-4502')][contains(., '615.00')][contains(., '4 Dec 2026')]");
    await d.open("/payables/taxes?company=HSF&book=IFRS&period=2026-11");
    await d.see("//tr[contains(., 'S23')][contains(., 'T2')]");
    await d.open(`/payables/invoices?company=HSF&book=IFRS&period=2026-11&text=${number}`);
    await (await d.see(`//tr[contains(., '${number}')]`)).click();
    await (await d.button("Cancel the invoice")).click();
    await d.press("sent to the wrong company", Key.ENTER);
    await d.see("//h1/following-sibling::*[contains(., 'Reversed')]");
    await d.open("/payables?company=HSF&book=IFRS&period=2026-11");
    await d.text("The open items equal the control accounts.");
  });

  test("one from 25,000 EUR up waits for the controller, who finds it on Today and posts it by approving", async () => {
    await d.signIn("controller");
    await d.open("/today?company=HSF&book=IFRS&period=2026-11");
    await (await d.see("//tr[contains(., 'CS-77120')]//a")).click();
    await (await d.button("Approve and post")).click();
    await d.see("//h1[starts-with(., 'HSF-26-P')]");
    await d.see("//button[starts-with(., 'HSF-26-')]");
  });
});

describe("partners", () => {
  test("what is entered on suppliers is an open item, late in the ageing, settled with its counterpart, and taken back; the ageing equals the control account throughout", async () => {
    await d.signIn("controller");
    await enter("Decking short", "credit", "310.40");
    await enter("Decking refund", "debit", "110.40");
    await d.open(`/payables?${october}`);
    await d.see("//tr[contains(., 'Brannoch Steel')][contains(., '200.00')]");
    await d.text("The open items equal the control accounts.");
    await (await d.see("//tr[contains(., 'Brannoch Steel')]")).click();
    await d.see("//h1[.='Brannoch Steel']");
    for (const reference of ["DECKING-SHORT", "DECKING-REFUND"])
      await (await d.see(`//tr[contains(., '${reference}')]//input[@type='checkbox']`)).click();
    await (await d.button("Settle 2 items")).click();
    await d.see("//tr[contains(., 'DECKING-SHORT')][contains(., '310.40')][contains(., '200.00')]");
    await (await d.see("//tr[contains(., 'DECKING-SHORT')]")).click();
    await d.see(
      "//aside[@aria-label='DECKING-SHORT'][contains(., 'by hand')][contains(., 'DECKING-REFUND')]",
    );
    await (await d.button("Undo settlement")).click();
    await d.see("//tr[contains(., 'DECKING-REFUND')][contains(., '110.40')]");
    await d.open(`/payables?${october}`);
    await d.text("The open items equal the control accounts.");
  });

  test("a supplier that is like another is pointed out; its bank account is checked by its form and confirmed by a second person", async () => {
    await d.signIn("payables");
    await d.open(`/payables/suppliers?${october}`);
    await (await d.button("Add a supplier")).click();
    await d.field("record-code", "S-900");
    await d.field("record-name", "Tarn Rope and Chain Ltd");
    await (await d.button("Save")).click();
    await d.text("S-103 Tarn Rope & Chain has a name that is alike.");
    await (await d.button("Save")).click();
    await d.see("//tr[contains(., 'S-900')]");
    await d.open(`/payables/suppliers/S-900?${october}`);
    await (await d.button("Bank accounts")).click();
    await d.field("bank-iban", "DE88 3704 0044 0532 0130 00");
    await (await d.button("Enter it")).click();
    await d.text("its form or its check digits are wrong");
    await d.field("bank-iban", "DE89 3704 0044 0532 0130 00");
    await (await d.button("Enter it")).click();
    await d.text("A second person has to confirm it");
    await d.signIn("controller");
    await d.open(`/payables/suppliers/S-900?${october}`);
    await (await d.button("Bank accounts")).click();
    await (await d.button("Confirm")).click();
    await d.see("//aside[@aria-label='Bank accounts'][contains(., 'confirmed by')]");
  });
});
