import { Key, type WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, describe, inject, test } from "vitest";
import { openBrowser } from "./browser";
import { drive } from "./drive";

const base = inject("demo");
const october = "company=HSF&book=IFRS&period=2026-10";
let browser: WebDriver;
let d: ReturnType<typeof drive>;

beforeAll(async () => {
  browser = await openBrowser();
  d = drive(browser, base);
});
afterAll(async () => browser?.quit());

const cell = async (place: string) => (await d.see(`//*[@data-cell='${place}']`)).click();
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
    for (const reference of ["DECKING-SHORT", "DECKING-REFUND"]) await (await d.see(`//tr[contains(., '${reference}')]//input[@type='checkbox']`)).click();
    await (await d.button("Settle 2 items")).click();
    await d.see("//tr[contains(., 'DECKING-SHORT')][contains(., '−310.40')][contains(., '−200.00')]");
    await (await d.see("//tr[contains(., 'DECKING-SHORT')]")).click();
    await d.see("//aside[@aria-label='DECKING-SHORT'][contains(., 'by hand')][contains(., 'DECKING-REFUND')]");
    await (await d.button("Take it back")).click();
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
