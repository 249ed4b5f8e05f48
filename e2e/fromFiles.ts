import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { Key, type WebDriver } from "selenium-webdriver";
import { expect } from "vitest";
import { drive } from "./drive";

const YEAR = new Date().getFullYear();
const CHART = `number,name,type,control,monetary,heading,costcentre
1,Assets,heading,,,,
11,Money,heading,,,1,
1110,Current account,asset,bank,yes,11,
12,Claims,heading,,,1,
1310,Customers,asset,receivables,yes,12,
2,Debts,heading,,,,
21,Suppliers and others,heading,,,2,
2140,Suppliers,liability,payables,yes,21,
2410,Accrued expenses,liability,,yes,21,
3,Own funds,heading,,,,
3010,Share capital,equity,,,3,
6,Costs,heading,,,,
63,Kelp and boats,heading,,,6,
6310,Boat repairs,expense,,,63,required
`;
const CENTRES = "code,name\nBOATS,Boats\n";
const PARTNERS = "code,name,country\nS-1,Rope Works,IE\n";
const OPENING = `account;debit;credit;partner;due date;reference
1110;1.500,00;;;;
2140;;500,00;S-1;31.01.${YEAR};R-17
3010;;1.000,00;;;
`;

/**
 * A person alone sets books up from files: chart, cost centres, suppliers, opening balances with an
 * open item; posts the first journal, and reads the first statements.
 */
export async function fromFiles(browser: WebDriver, base: string): Promise<void> {
  const d = drive(browser, base);
  const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-files-"));
  const load = async (label: string, name: string, text: string, then: string) => {
    const file = path.join(folder, name);
    writeFileSync(file, text);
    const input = await d.see(`//input[@type='file' and starts-with(@aria-label, '${label}')]`);
    await input.sendKeys(file);
    await (await d.button("Take in")).click();
    await d.text(then);
  };
  await d.open("/setup/accounts");
  await load("Load", "chart.csv", CHART, "14 added, 0 changed.");
  await d.text("Boat repairs");
  await d.open("/setup/dimensions");
  await load("Load", "centres.csv", CENTRES, "1 added, 0 changed.");
  await d.open("/payables/suppliers");
  await load("Load", "suppliers.csv", PARTNERS, "1 added, 0 changed.");
  await d.open("/setup/opening");
  await load("Check a file", "opening.csv", OPENING, "3 added, 0 changed.");
  await d.open(`/payables/suppliers/S-1?period=${YEAR}-01`);
  await d.text("R-17");
  await d.open(`/ledger/journals/new?period=${YEAR}-01`);
  await d.field("head-journal-date", `${YEAR}-01-15`);
  await d.field("head-description", "First repair");
  await d.cell("0:account");
  await d.press("6310", Key.ENTER, "BOATS", Key.ENTER);
  await d.cell("0:debit");
  await d.press("120", Key.ENTER);
  await d.cell("1:account");
  await d.press("2410", Key.ENTER);
  await d.cell("1:credit");
  await d.press("120", Key.ENTER);
  await d.kept();
  await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
  await d.text("Posted as KLP-");
  await d.open(`/statements/balance-sheet?period=${YEAR}-01&scale=1`);
  await d.click("//a[normalize-space(.)='Outlines']");
  await (await d.button("Make them from the headings")).click();
  await d.text("version 1");
  await d.open(`/statements/balance-sheet?period=${YEAR}-01&scale=1`);
  await d.text("Total equity and liabilities");
  const sheet = await d.bodyText();
  expect(sheet).toContain("1,500.00");
  expect(sheet).not.toContain("not complete");
  await d.open(`/statements/income-statement?period=${YEAR}-01&scale=1`);
  await d.text("Kelp and boats");
}
