import { mkdtemp, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { Key, until } from "selenium-webdriver";
import { describe, expect, inject, test } from "vitest";
import { WAIT } from "./browser";
import { browserFor } from "./browserFor";

const base = inject("demo");
const november = "company=HSF&book=IFRS&period=2026-11";
const { browser, d } = await browserFor(base);
const { cell } = d;

/** What a link of the page leads to, asked as the person who is signed in. */
const fetched = async (label: string) => {
  const link = await d.see(`//a[normalize-space(.)='${label}']`);
  return d.fetch(((await link.getAttribute("href")) ?? "").replace(/^https?:\/\/[^/]+/, ""));
};
/** What stands there, also where it was drawn anew between looking and reading. */
const textOf = async (xpath: string): Promise<string> => {
  const read = async () => (await d.see(xpath)).getText();
  return read().catch(read);
};
/** Whoever is first stands in the address once the desk is there. */
const settled = () => browser.wait(until.urlContains("partner="), WAIT);
const choose = (id: string, value: string) =>
  d.click(`//select[@id='${id}']/option[@value='${value}' or .='${value}']`);

describe("an invoice to a customer", () => {
  test("in another currency by keyboard: from entry to paper, e-invoice and mail; corrected by a credit note", async () => {
    await d.signIn("receivables");
    await d.open(`/receivables/invoices/new?${november}`);
    await (await d.see("//*[@id='i-customer']")).sendKeys("C-202");
    await d.text("Fennick Freight");
    await d.field("i-reference", "PO 4711");
    await choose("i-currency", "USD");
    await cell("0:account");
    await d.press("4130", Key.ENTER);
    await cell("0:d.costCentre");
    await d.press("R-INN", Key.ENTER);
    await cell("0:description");
    await d.press("Lorries, October", Key.ENTER);
    await cell("0:quantity");
    await d.press("12", Key.ENTER);
    await cell("0:price");
    await d.press("150.5", Key.ENTER);
    await cell("0:discount");
    await d.press("10", Key.ENTER);
    await cell("0:taxCode");
    await d.press("V13", Key.ENTER);
    await d.see("//div[starts-with(., 'Net')][contains(., '1,625.40')]");
    await d.kept();
    await d.see("//div[starts-with(., 'Comes to USD')][contains(., '1,844.83')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    const number = await (await d.see("//h1[starts-with(., 'HSF-26-S')]")).getText();
    await d.see("//dd[contains(., 'PO 4711')]");
    const paper = await fetched("PDF");
    expect([paper.status, paper.type]).toEqual([200, "application/pdf"]);
    const message = await fetched("E-invoice");
    expect(message.status).toBe(200);
    expect(message.text).toContain(`<cbc:ID>${number}</cbc:ID>`);
    await (await d.button("Send")).click();
    await d.see("//button[normalize-space(.)='Send again']");
    await d.open(`/receivables/customers/C-202?${november}`);
    await d.see(`//tr[contains(., '${number}')][contains(., '1,844.83')]`);

    await d.open(`/receivables/invoices/new?${november}`);
    await (await d.see("//*[@id='i-customer']")).sendKeys("C-202");
    await d.text("Fennick Freight");
    await choose("i-kind", "credit note");
    await choose("i-currency", "USD");
    await d.field("i-corrects", number);
    await (await d.button("Take its lines")).click();
    await cell("0:quantity");
    await d.press("13", Key.ENTER);
    await d.kept();
    await d.chord([Key.CONTROL], Key.ENTER);
    await d.see("//*[@id='i-corrects-problem'][contains(., 'more than its 1,844.83')]");
    await cell("0:quantity");
    await d.press("2", Key.ENTER);
    await d.kept();
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[starts-with(., 'HSF-26-S')]");
    await d.see(`//dd//a[normalize-space(.)='${number}']`);

    // It is paid short in dollars: the credit is deducted, the rest is written off.
    await d.open(`/receivables/receipts/new?${november}&customer=C-202`);
    await d.see("//*[@id='r-customer'][@value='C-202']");
    await choose("r-bank", "HSF-USD");
    await d.field("r-amount", "1500.00");
    await d.field("r-text", `${number} less credit note`);
    await d.see("//p[contains(., 'what the text names')]");
    const row = `//tr[contains(., '${number}')]`;
    await d.see(`${row}//input[@aria-label='Money for ${number}'][@value='1500.00']`);
    await d.click(
      `${row}//select[contains(@aria-label, 'What is left')]/option[.='is written off']`,
    );
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//*[@id='r-reason-problem']");
    await d.field("r-reason", "Charges of a bank between");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//*[contains(., 'is recorded')]");
    await d.open(`/receivables/receipts?${november}`);
    await d.click("//tbody/tr[contains(., 'Fennick')][contains(., 'HSF-USD')]//td[2]");
    await d.see(`//a[normalize-space(.)='${number}']`);
    await d.see("//*[contains(., 'not on a statement yet')]");
    await (await d.button("Undo")).click();
    await (await d.see("//input[@aria-label='Reason']")).sendKeys("Another customer’s money");
    await (await d.button("Undo the receipt")).click();
    await d.see("//*[contains(., 'Reversed')]");

    // In euros: it is agreed what of it is owed in euros, and that is taken like any other item.
    await d.open(`/receivables/receipts/new?${november}&customer=C-202`);
    await d.field("r-amount", "1000.00");
    await d.click(`//p[contains(., '${number}')]//button[starts-with(., 'Pay it in EUR')]`);
    await d.field("restate-taken", "5000");
    await d.see("//form//p[contains(., 'USD')]");
    await (await d.button("Post")).click();
    await d.see("//*[@id='restate-taken-problem']");
    await d.field("restate-taken", "1200");
    await d.field("restate-amount", "1050");
    await d.see("//form//p[contains(., '1,050.00 EUR')]");
    await (await d.button("Post")).click();
    await d.see(`//tr[contains(., '${number}')][contains(., '1,050.00')]`);
    await d.click(`//input[@aria-label='Pays ${number}']`);
    await d.field("r-amount", "1000.00");
    await d.see(`//p[contains(., '${number}')]`);
    await d.open(`/receivables/customers/C-202?${november}`);
    await d.see(`//tr[contains(., '${number}')][contains(., 'EUR')][contains(., '1,050.00')]`);
    await d.click(`//tr[contains(., '${number}')][contains(., 'USD')][contains(., 'invoice')]`);
    await d.see("//aside[contains(., 'restatement')]");
    await (await d.button("Undo settlement")).click();
    await d.see(`//tr[contains(., '${number}')][contains(., 'USD')][contains(., '1,844.83')]`);
  });

  test("what was asked for ahead is set off by the last invoice, with its tax, once", async () => {
    await d.signIn("receivables");
    await d.open(`/receivables/invoices/new?${november}`);
    await (await d.see("//*[@id='i-customer']")).sendKeys("C-208");
    await d.text("Larkspur Cruises");
    await d.text("8,000.00 EUR net under V23 were asked for ahead");
    await (await d.button("Set off")).click();
    await cell("1:account");
    await d.press("4130", Key.ENTER);
    await cell("1:d.costCentre");
    await d.press("R-INN", Key.ENTER);
    await cell("1:description");
    await d.press("Berths of the season 2027", Key.ENTER);
    await cell("1:price");
    await d.press("20000", Key.ENTER);
    // The tax of the line above is carried down.
    await d.see("//div[starts-with(., 'Net')][contains(., '12,000.00')]");
    await d.kept();
    await d.see("//div[starts-with(., 'Comes to')][contains(., '14,760.00')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[starts-with(., 'HSF-26-S')]");
    await d.see(
      "//tr[contains(., 'sets off HSF-26-S')][contains(., '-8,000.00') or contains(., '−8,000.00') or contains(., '(8,000.00)')]",
    );
    await d.open(`/receivables/customers/C-208?${november}`);
    await (await d.button("Contacts")).click();
    await (await d.button("Add a contact")).click();
    await d.field("contact-1-name", "Mara Quill");
    await d.field("contact-1-telephone", "none");
    await (await d.button("Save")).click();
    await d.text("This is no telephone number");
    await d.field("contact-1-telephone", "+353 1 555 0199");
    await (await d.button("Save")).click();
    await d.text("Saved.");
    await (await d.button("Conversation")).click();
    await d.see("//ol[@aria-label='Said with Larkspur Cruises']");
  });
});

describe("a morning at the desk", () => {
  test("what is noted from a result of Find is in the customer's conversation", async () => {
    await d.signIn("receivables");
    await d.open(`/today?${november}`);
    await d.chord([Key.CONTROL], "k");
    await (await d.see("//input[contains(@placeholder, 'a customer')]")).sendKeys("larkspur");
    await d.see("//*[@role='option'][@aria-selected='true'][contains(., 'Larkspur')]");
    await d.chord([Key.CONTROL], Key.ENTER);
    await d.see("//section[starts-with(@aria-label, 'Said about')][contains(., 'Larkspur')]");
    await d.press("Their clerk is away until Monday", Key.ENTER);
    await d.see("//section//li[contains(., 'away until Monday')]");
    await d.open(`/receivables/customers/C-208?${november}`);
    await (await d.button("Conversation")).click();
    await d.see("//li[contains(., 'away until Monday')]");
  });

  test("why the first is first, a call, a promise of a part for Friday week, a dispute; the order changes", async () => {
    await d.signIn("receivables");
    await d.open(`/receivables/desk?${november}`);
    await d.see("//section[@aria-label='Why this score']//h3");
    await settled();
    const first = await textOf("//section[@aria-label='Why this score']//h3");
    const list = "//section[@aria-label='Customers by score']";
    expect(await textOf(`${list}//li[1]`)).toContain(first.replace("Why ", ""));
    const name = await textOf(`${list}//li[1]//b`);
    await d.press("c");
    await d.press("Rang up, asked for the two oldest @controller");
    await d.click("//aside//button[normalize-space(.)='Note']");
    await d.see("//aside//li[contains(., 'Rang up, asked for the two oldest')]");
    const mail = path.join(await mkdtemp(path.join(tmpdir(), "mail-")), "their-mail.txt");
    await writeFile(mail, "We pay the two oldest on Friday week.");
    await (await d.see("//aside//input[@type='file']")).sendKeys(mail);
    await d.see("//aside//form//p[contains(., 'their-mail.txt')]");
    await d.click("//aside//button[normalize-space(.)='Note']");
    const kept = await d.see("//aside//li//a[normalize-space(.)='their-mail.txt']");
    const file = await d.fetch(new URL((await kept.getAttribute("href"))!).pathname);
    expect(file.text).toContain("on Friday week");
    await d.click("(//table//tbody//input[@type='checkbox'])[1]");
    await d.click("//h1");
    await d.press("p");
    await d.see("//form//h2[contains(., 'Promise')] | //form//h3[contains(., 'Promise')]");
    await choose("promise-when", "4");
    await d.click("//form//button[normalize-space(.)='Note the promise']");
    await d.see("//aside//li[contains(., 'Promise')][contains(., '13 Nov 2026')]");
    await d.see("//td[contains(., 'promised for 13 Nov 2026')]");
    await d.click("//h1");
    const next = await textOf(
      `${list}//li[button[@aria-current='true']]/following-sibling::li[1]//b[1]`,
    );
    await d.press("n");
    await d.see(`//section[@aria-label="${next}"]`);
    await d.press("d");
    await choose("dispute-reason", "price");
    await d.field("dispute-note", "Says that the rate was agreed lower");
    await d.click("//form//button[normalize-space(.)='Note the dispute']");
    await d.see("//aside//li[contains(., 'Dispute')][contains(., 'agreed lower')]");
    await d.press("\\");
    await d.see("//button[contains(., 'Conversation')]");
    // What is promised is no longer collected: somebody else may be first now.
    await d.open(`/receivables/desk?${november}&text=${encodeURIComponent(name)}`);
    await d.see("//td[contains(., 'promised for 13 Nov 2026')]");
  });

  test("parts of three items are promised for Friday week, a fourth is disputed, letters leave both out", async () => {
    await d.signIn("receivables");
    const builders = `/receivables/desk?${november}&collector=all&partner=C-207`;
    const free = "//table//tbody/tr[not(contains(., 'dispute')) and not(contains(., 'promised'))]";
    await d.open(builders);
    await d.see("//section[@aria-label='Pike & Daughters Builders']");
    for (const nth of [2, 3, 4]) await d.click(`(${free}//input[@type='checkbox'])[${nth}]`);
    await d.click("//h1");
    await d.press("p");
    await choose("promise-when", "4");
    const amounts = "//form//input[starts-with(@id, 'promise-amount-')]";
    for (const nth of [1, 2, 3]) await (await d.see(`(${amounts})[${nth}]`)).sendKeys("100.00");
    await (await d.see(`(${amounts})[1]`)).sendKeys("9999999");
    await d.click("//form//button[normalize-space(.)='Note the promise']");
    await d.see("//form//*[starts-with(@id, 'promise-amount-')][contains(@id, '-problem')]");
    const first = await d.see(`(${amounts})[1]`);
    await first.clear();
    await first.sendKeys("100.00");
    await d.click("//form//button[normalize-space(.)='Note the promise']");
    await d.see("//aside//li[contains(., '300.00 EUR for 13 Nov 2026')]");
    await d.open(builders);
    const oldest = await d.see(`(${free}//input[@type='checkbox'])[1]`);
    const overdue = (await oldest.getAttribute("aria-label"))!.replace("Choose ", "");
    await oldest.click();
    await d.click("//h1");
    await d.press("d");
    await choose("dispute-reason", "quality");
    await d.field("dispute-note", "The pontoon was closed for two days");
    await d.click("//form//button[normalize-space(.)='Note the dispute']");
    await d.see("//aside//li[contains(., 'Dispute')][contains(., 'pontoon')]");
    await d.click("//a[normalize-space(.)='Letters to all']");
    await d.see("//h1[contains(., 'Letters to customers')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[starts-with(., 'Reminders of')]");
    await d.click("//button[@role='tab'][starts-with(., 'Left out')]");
    await d.see(`//tr[contains(., '${overdue}')][contains(., 'in dispute')]`);
    await (await d.button("Discard")).click();
    await d.see("//*[contains(., 'Preview discarded')]");
  });
});

describe("a run of reminders", () => {
  test("says who is left out and why, takes one out by hand, is sent, and shows on items and in the mailbox", async () => {
    await d.signIn("receivables");
    await d.open(`/receivables/letters?${november}`);
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[starts-with(., 'Reminders of')]");
    await d.click("//button[@role='tab'][starts-with(., 'Left out')]");
    // One was promised and one disputed at the desk this morning, whatever else was paid meanwhile.
    await d.see("//tr[contains(., 'promised for 13 Nov 2026')]");
    await d.see("//tr[contains(., 'in dispute')]");
    await d.click("//button[@role='tab'][starts-with(., 'Items')]");
    await d.click("(//tr[@data-line][td[3][starts-with(., 'Level 1')]])[last()]/td[3]");
    await d.press(Key.SPACE);
    await d.see("//tr[contains(., 'left out by hand')]");
    await d.click("//button[@role='tab'][starts-with(., 'Letters')]");
    const paper = await fetched("PDF");
    expect([paper.status, paper.type]).toEqual([200, "application/pdf"]);
    const customer = await textOf("(//table//tbody//tr)[1]/td[1]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await (await d.button("Send")).click();
    // The letters are drawn by and by.
    await browser.wait(async () => {
      await browser.navigate().refresh();
      await d.click("//button[@role='tab'][starts-with(., 'Letters')]");
      return (await d.bodyText()).includes("not yet") ? null : true;
    }, 60_000);
    const name = customer.replace(/^\S+ /, "");
    await d.open(`/receivables/desk?${november}&collector=all&text=${encodeURIComponent(name)}`);
    await d.see("//td[contains(., 'level 1 on 5 Nov 2026')]");
    await d.see("//aside//li[contains(., 'Reminder, level 1')]");
  });
});

describe("expected credit losses", () => {
  const october = "company=HSF&book=IFRS&period=2026-10";
  test("are proposed by group and age, one has an allowance of its own, and the balance leads to a customer's item", async () => {
    await d.signIn("receivables");
    await d.open(`/receivables/losses?${october}`);
    await d.see("//tr[contains(., 'Freight, agents and trade')][contains(., 'lost')]");
    await d.field("losses-forward.BERTH", "20");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[starts-with(., 'Expected credit losses on')]");
    await d.click("//tr[contains(., 'Pike & Daughters')][contains(., '35,263.07')]/td[3]");
    await d.see("//aside//*[contains(., 'Rate of TRADE')]");
    await d.press("5", "0", "0", "0", Key.ENTER);
    await d.see("//tr[contains(., 'specific, of 35,263.07')][contains(., '5,000.00')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//button[normalize-space(.)='Reverse the run']");
    // From the balance of the allowance to the item that it is for.
    await d.signIn("controller");
    await d.open(`/ledger/accounts/1319?${october}`);
    await d.click("//td[normalize-space(.)='Expected credit losses on 31 Oct 2026']");
    await d.click("//a[starts-with(normalize-space(.), 'Came from')]");
    await d.click("//tr[contains(., 'specific, of 35,263.07')]/td[3]");
    await d.click("//aside//a[starts-with(., 'HSF-26-S')]");
    await d.see("//h1[starts-with(., 'HSF-26-S')]");
    await d.text("Pike & Daughters Builders");
  });
});

describe("agreements with customers", () => {
  test("are previewed with what moves their prices, invoiced by a run, and taken back as a whole", async () => {
    await d.signIn("receivables");
    await d.open(`/receivables/agreements?${november}`);
    await d.see("//tbody/tr[contains(., 'Wren Yacht Club')][contains(., 'CONSUMER, 4.39 %')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[starts-with(., 'Invoices of agreements by 30 Nov 2026')]");
    await d.see("//button[starts-with(normalize-space(.), 'Post 2 invoices')]");
    // 12 × 310.00, by 123.6 / 118.4.
    await d.click("//tr[@data-line][contains(., 'Wren')]/td[2]");
    await d.see("//aside//*[contains(., '12 × 323.61')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//button[normalize-space(.)='Reverse the run']");
    const run = await browser.getCurrentUrl();
    await d.open(`/receivables/invoices?${november}`);
    await d.see("//tbody/tr[contains(., 'Wren Yacht Club')][contains(., '4,407.57')]");
    await browser.get(run);
    await (await d.button("Reverse the run")).click();
    await (await d.see("//input[@aria-label='Reason']")).sendKeys("Prices not agreed yet");
    await (await d.button("Reverse all")).click();
    await d.see("//*[contains(., 'Reversed')]");
    await d.open(`/receivables/agreements?${november}`);
    await d.see("//button[starts-with(normalize-space(.), 'Preview 2 invoices')]");
  });
  test("say at their fields what is wrong, and nothing typed is lost", async () => {
    await d.open(`/receivables/agreements/new?${november}`);
    await d.field("a-name", "Berth 9");
    await d.field("a-customer", "NOBODY");
    await d.field("a-first", "soon");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//*[@id='a-first-problem']");
    await d.field("a-first", "30 Nov 2026");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//*[@id='a-customer-problem']");
    expect(await (await d.see("//*[@id='a-name']")).getAttribute("value")).toBe("Berth 9");
  });
});

describe("direct debits", () => {
  test("a mandate with a wrong IBAN is mended; what is due is debited, told and sent", async () => {
    await d.open(`/receivables/mandates?${november}`);
    await (await d.button("Enter a mandate")).click();
    await d.field("record-partner", "C-237");
    await d.field("record-reference", "KELP-1");
    await d.field("record-signed", "2 Nov 2026");
    await d.field("record-iban", "IE98 ZZZZ 9999 9770 0009 01");
    await (await d.button("Save")).click();
    await d.see("//*[@id='record-iban-problem']");
    await d.field("record-iban", "DE75 5121 0800 1245 1261 99");
    await d.field("record-notice", "10");
    await (await d.button("Save")).click();
    await d.see("//tbody/tr[contains(., 'KELP-1')][contains(., 'in force')]");
    await d.open(`/receivables/debits?${november}`);
    await d.field("direct-debits-date", "24 Nov 2026");
    await d.field("direct-debits-upTo", "24 Nov 2026");
    await d.field("direct-debits-customers", "C-237");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[starts-with(., 'Direct debits of 24 Nov 2026')]");
    await d.see("//tr[contains(., 'Kelp')][contains(., '1,820.54')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//button[normalize-space(.)='Reverse the run']");
    await d.click("//*[@role='tab'][starts-with(normalize-space(.), 'Direct debits')]");
    await (await d.button("Tell 1 customer")).click();
    await d.click("//button[starts-with(normalize-space(.), 'Make the file for the bank')]");
    await d.see("//tr[contains(., 'Kelp')][contains(., 'Sent')]");
    const file = await fetched((await textOf("//a[contains(., '.xml')]")).trim());
    expect(file.status).toBe(200);
    expect(file.text).toContain("<MndtId>KELP-1</MndtId>");
    expect(file.text).toContain("<ReqdColltnDt>2026-11-24</ReqdColltnDt>");
  });
});

describe("deferred revenue", () => {
  test("a season ticket is invoiced, its first month is released, and the account is what is left", async () => {
    await d.open(`/receivables/invoices/new?${november}&customer=C-239`);
    await (await d.button("Deferral")).click();
    await cell("0:account");
    await d.press("4110", Key.ENTER);
    await cell("0:d.costCentre");
    await d.press("R-INN", Key.ENTER);
    await cell("0:description");
    await d.press("Season ticket", Key.ENTER);
    await cell("0:earnedFrom");
    await d.press("1 Nov 2026", Key.ENTER);
    await cell("0:earnedTo");
    await d.press("31 Oct 2026", Key.ENTER);
    await cell("0:taxCode");
    await d.press("V13", Key.ENTER);
    await cell("0:net");
    await d.press("1200", Key.ENTER);
    await d.chord([Key.CONTROL], Key.ENTER);
    await d.see("//*[@data-cell='0:earnedTo'][contains(@title, 'ends before it begins')]");
    await cell("0:earnedTo");
    await d.press(Key.DELETE, "31 Oct 2027", Key.ENTER);
    await d.kept();
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    const number = await (await d.see("//h1[starts-with(., 'HSF-26-S')]")).getText();
    await d.open(`/receivables/deferrals?${november}`);
    await d.see(`//tbody/tr[contains(., '${number}')][contains(., '1,200.00')]`);
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[starts-with(., 'Deferred revenue earned by 30 Nov 2026')]");
    await d.see("//tr[contains(., 'Larchfield')][contains(., '100.00')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//button[normalize-space(.)='Reverse the run']");
    await d.open(`/receivables/deferrals?${november}`);
    await d.see(`//tbody/tr[contains(., '${number}')][contains(., '1,100.00')]`);
    const fact = (label: string) =>
      textOf(`//div[contains(@class, 'text-xs')][.='${label}']/following-sibling::div`);
    expect(await fact("Still deferred")).toBe(`${await fact("Account 2425")} EUR`);
  });
});

describe("credit limits", () => {
  test("a clerk raises none; a higher one is asked for and granted by somebody else", async () => {
    await d.open(`/receivables/limits?${november}&partner=C-239`);
    await d.field("credit-limit-limit", "9,000.00");
    await d.field("credit-limit-reason", "A second route");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//tbody/tr[contains(., 'Larchfield')][contains(., 'waits')]");
    await d.signIn("controller");
    await d.open(`/receivables/limits?${november}`);
    await d.click("//tbody/tr[contains(., 'Larchfield')]/td[contains(., 'A second route')]");
    await (await d.button("Grant it")).click();
    await d.see("//tbody/tr[contains(., 'Larchfield')][contains(., 'granted by')]");
  });
});
