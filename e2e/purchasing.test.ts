import { By, Key } from "selenium-webdriver";
import { describe, expect, inject, test } from "vitest";
import { browserFor } from "./browserFor";

const base = inject("demo");
const november = "company=HSF&book=IFRS&period=2026-11";
const { d, browser } = await browserFor(base);
const { cell } = d;
const agrees = async () => {
  await d.open(`/payables?${november}`);
  await d.text("The open items equal the control accounts.");
};
const finish = () => d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);

describe("buying", () => {
  test("by keyboard: a purchase from request over order and receipt to an invoice above the ordered price, held, let pass, and its leftover cleaned by a rule that is tried first", async () => {
    await d.signIn("payables");
    await d.open(`/payables/orders/new?${november}&kind=request`);
    await d.field("o-description", "Paper for the winter");
    await cell("0:item");
    await d.press("paper", Key.ENTER);
    await cell("0:quantity");
    await d.press("10", Key.ENTER);
    await d.kept();
    await finish();
    await d.see("//h1[starts-with(., 'HSF-26-Q')]");
    await d.open(`/payables/orders?${november}&status=draft&text=winter`);
    await (await d.see("//tr[contains(., 'Paper for the winter')]")).click();
    await (await d.see("//*[@id='o-supplier']")).sendKeys("S-134");
    await d.text("Pierhead Catering Supplies");
    await d.kept();
    await finish();
    const order = await (await d.see("//h1[starts-with(., 'HSF-26-O')]")).getText();
    await (await d.button("Receive")).click();
    await d.see("//input[@aria-label='Quantity of line 1'][@value='10']");
    await d.press(Key.ENTER);
    await d.see("//a[starts-with(., 'HSF-26-G')]");

    await d.open(`/payables/invoices/new?${november}`);
    await (await d.see("//*[@id='i-supplier']")).sendKeys("S-134");
    await d.field("i-number", "PC-77");
    await d.chord([Key.ALT], "o");
    await d.see(`//*[@data-cell='0:order'][contains(., '${order}/1')]`);
    await cell("0:quantity");
    await d.press("9", Key.ENTER);
    await cell("0:net");
    await d.press("=9*25", Key.ENTER);
    await d.kept();
    await d.text("9 are invoiced at 25.00, ordered at 23.75; that is 11.25 EUR more than ordered.");
    await finish();
    await d.text("It is held until this fits, or somebody else lets it pass.");
    const invoice = new URL(await browser.getCurrentUrl()).pathname;

    await d.signIn("controller");
    await d.open(`${invoice}?${november}`);
    await (
      await d.see("//input[@placeholder='Why may it pass?']")
    ).sendKeys("Agreed by phone", Key.ENTER);
    await d.see("//h1[starts-with(., 'HSF-26-P')]");
    await d.open(`/payables/rules?${november}`);
    await (await d.button("Add a rule")).click();
    await d.field("rule-place", "5");
    await d.field("rule-name", "Boxes of paper");
    const value = await d.see("//input[@aria-label='Value 1']");
    await value.clear();
    await value.sendKeys("0");
    await (await d.button("Add a condition")).click();
    await (await d.see("//select[@aria-label='Condition 2']/option[@value='supplier']")).click();
    await (await d.see("//input[@aria-label='Value 2']")).sendKeys("S-134");
    await (await d.button("Try it")).click();
    await d.see(
      "//*[@aria-live='polite'][contains(., 'It takes')][contains(., 'Pierhead Catering')]",
    );
    await (await d.button("Save")).click();
    await d.see("//tr[contains(., 'Boxes of paper')]");
    await d.open(`/payables/received?${november}`);
    await d.text("The leftovers equal the control account.");
    await (await d.button("Preview what the rules")).click();
    await d.see("//tr[contains(., 'Boxes of paper')]");
    await (await d.button("Post 1 journal")).click();
    await d.see("//h1/following-sibling::*[contains(., 'Posted')]");
    await d.open(`/payables/received?${november}&cleaned=1`);
    await d.see("//tr[contains(., 'Boxes of paper')][contains(., 'Pierhead')]");
    await d.text("The leftovers equal the control account.");
    await d.open(`${invoice.replace("/payables/invoices", "/documents")}?${november}`);
    for (const stage of ["HSF-26-Q", order, "HSF-26-G", "HSF-26-P"])
      await d.see(`//a[contains(@class, 'absolute')][contains(., '${stage}')]`);
    await agrees();
  });

  test("a premium that comes every quarter is made as a draft from its template, with its shares, and posted", async () => {
    await d.signIn("payables");
    await d.open(`/payables/recurring?${november}`);
    const box = await d.see("//tr[contains(., 'Hull insurance premium')]//input[@type='checkbox']");
    await box.click();
    await (await d.button("Preview 1 invoice")).click();
    await (await d.button("Make 1 draft")).click();
    await d.see("//h1/following-sibling::*[contains(., 'Posted')]");
    await d.open(`/payables/invoices?${november}&status=draft&text=BI-2026-Q4`);
    await (await d.see("//tr[contains(., 'BI-2026-Q4')]")).click();
    await d.see("//*[@data-cell='0:shares'][contains(., 'PREMIUM')]");
    await d.kept();
    await finish();
    await d.see("//h1[starts-with(., 'HSF-26-P')]");
    await (await d.see("//button[starts-with(., 'HSF-26-')]")).click();
    for (const part of ["13,365.00", "7,290.00", "3,645.00"]) await d.text(part);
    await agrees();
  });
});

describe("paying", () => {
  test("a run cut down, part-paid, its cheques numbered, one spoilt and printed anew, posted, one payment reversed, the file made; the ageing equals the control account throughout", async () => {
    await d.signIn("payables");
    await d.open(`/payables/payments/run?${november}`);
    await (await d.see("//*[@id='pay-next']")).clear();
    await (await d.see("//*[@id='pay-next']")).sendKeys("1 Nov 2026");
    await finish();
    await d.text("The next run lies after this one.");
    await d.field("pay-next", "12 Nov 2026");
    await finish();
    await d.see("//h1[starts-with(., 'Payments of 5 Nov 2026')]");
    await d.text(
      "Somebody else has to post it: payment journals from 350,000.00 EUR are approved by a controller.",
    );
    // Before it is released, no cheque has a number; once it is below the limit, they can have one.
    await (await d.button("Payments ")).click();
    await d.text("once a second person has posted the run");
    expect(
      await browser.findElements(By.xpath("//button[starts-with(., 'Give numbers')]")),
    ).toEqual([]);
    await (await d.button("Items ")).click();
    await d.see("//tr[contains(., 'discount until 11 Nov 2026')]");
    await (await d.button("Left out ")).click();
    await d.see("//tr[contains(., 'is on hold')]");
    await (await d.button("Items ")).click();
    // On the sheet the space bar leaves an item out, and an amount typed on it pays a part.
    const line = (text: string) => d.see(`//tr[@data-line][contains(., '${text}')]`);
    await (await line("Gullane Power")).click();
    await (await line("Gullane Power")).sendKeys(Key.SPACE);
    await d.see("//tr[contains(., 'Gullane Power')][contains(., 'left out by hand')]");
    await (await line("Larder & Wake")).click();
    await (await line("Larder & Wake")).sendKeys(Key.SPACE);
    await d.see("//tr[contains(., 'Larder & Wake')][contains(., 'left out by hand')]");
    await (await line("Fathom Systems")).click();
    await (await d.see("//input[starts-with(@id, 'ask-pay')]")).sendKeys("one thousand", Key.ENTER);
    await d.see("//tr[contains(., 'Fathom Systems')][contains(., 'is no amount')]");
    await (await line("Fathom Systems")).sendKeys(Key.F2);
    const part = await d.see("//input[starts-with(@aria-label, 'Pay only') and not(@id)]");
    await part.sendKeys(Key.chord(Key.CONTROL, "a"), "1,000.00", Key.ENTER);
    await d.see("//tr[contains(., 'Fathom Systems')][contains(., 'in part')]");
    await (await d.button("Post")).click();
    await d.text("not printed yet; print first");
    await (await d.button("Payments ")).click();
    await (await d.button("Give numbers to")).click();
    await (await d.see("//button[text()='Void']")).click();
    await d.field("void-reason", "Jammed in the printer");
    await d.press(Key.ENTER);
    await d.text("(Jammed in the printer)");
    await (await d.button("Post")).click();
    await d.see("//h1/following-sibling::*[contains(., 'Posted')]");
    await agrees();
    await d.open(`/payables/payments?${november}&text=Fathom`);
    await (await d.see("//tr[contains(., 'Fathom Systems')][contains(., '1,000.00')]")).click();
    await (await d.button("Reverse")).click();
    await d.press("paid too early", Key.ENTER);
    await d.see("//h1/following-sibling::*[contains(., 'Reversed')]");
    const run = await (await d.see("//a[starts-with(., 'HSF-26-R')]")).getAttribute("href");
    await agrees();
    await browser.get(run!);
    await (await d.button("Payments ")).click();
    await (await d.button("Make the file for the bank")).click();
    const file = await (
      await d.see("//a[starts-with(@href, '/export/payment-file')]")
    ).getAttribute("href");
    const xml = await d.fetch(new URL(file!).pathname + new URL(file!).search);
    expect(xml.text).toContain("urn:iso:std:iso:20022:tech:xsd:pain.001.001.09");
    expect(xml.text).not.toContain("Fathom Systems");
    await (await d.button("Send remittance advices")).click();
    await (await d.see("//a[contains(., 'sent')][contains(@href, '/payables/outbox')]")).click();
    await d.see("//tr[contains(., 'Remittance advice HSF-26-Z')]");
  });

  test("what the bank rejects is open again, and in the next run", async () => {
    await d.open(`/payables/payments?${november}&status=sent`);
    await (await d.see("//tbody/tr[contains(., 'Sent')][1]")).click();
    await (await d.button("The bank rejected it")).click();
    await d.press("Account closed", Key.ENTER);
    await d.see("//h1/following-sibling::*[contains(., 'Rejected')]");
    const item = await (await d.see("//table//td[1]//a")).getText();
    await agrees();
    await d.open(`/payables/payments/run?${november}`);
    await d.field("pay-next", "12 Nov 2026");
    await finish();
    await d.see("//h1[starts-with(., 'Payments of 5 Nov 2026')]");
    await d.see(`//tr[@data-line][contains(., '${item}')]`);
    await (await d.button("Discard")).click();
  });

  test("one payment by itself of a coding without a supplier, and what was late or lost can be seen", async () => {
    await d.open(`/payables/payments/new?${november}`);
    await d.field("p-payee", "Harbour fair committee");
    await d.field("p-description", "Stand at the fair");
    await cell("0:account");
    await d.press("7430", Key.ENTER);
    await cell("0:d.costCentre");
    await d.press("A-SALES", Key.ENTER);
    await cell("0:amount");
    await d.press("180", Key.ENTER);
    await finish();
    await d.see("//h1[starts-with(., 'HSF-26-Z')]");
    await d.text("It settles no item");
    await d.open(`/payables/cash?${november}`);
    await d.text("Their total equals the control account.");
  });

  test("one payment above the limit of a rule waits as a run of its own: the controller posts it by keyboard, finds its payment there, and takes it back", async () => {
    await d.signIn("payables");
    await d.open(`/payables/payments/new?${november}`);
    await d.field("p-payee", "Harbour Authority");
    await d.field("p-description", "Berth lease 2027");
    await cell("0:account");
    await d.press("7430", Key.ENTER);
    await cell("0:d.costCentre");
    await d.press("A-SALES", Key.ENTER);
    await cell("0:amount");
    await d.press("400000", Key.ENTER);
    await finish();
    await d.see("//h1[starts-with(., 'Payment to Harbour Authority')]");
    await d.text(
      "Somebody else has to post it: payment journals from 350,000.00 EUR are approved by a controller.",
    );
    const run = new URL(await browser.getCurrentUrl()).pathname;
    await finish();
    await d.text("Whoever proposed this run cannot post it");
    await d.signIn("controller");
    await d.open(`/today?${november}`);
    await d.see("//tr[contains(., 'Payment to Harbour Authority')]");
    await d.open(`${run}?${november}`);
    await d.see("//button[starts-with(., 'Post 1 journal')]");
    await finish();
    await d.see("//h1/following-sibling::*[contains(., 'Posted')]");
    await (await d.button("Payments 1")).click();
    await d.see(
      "//tr[contains(., 'Harbour Authority')][contains(., '400,000.00')]//a[starts-with(., 'HSF-26-Z')]",
    );
    await (await d.button("Reverse the run")).click();
    await d.press("leased elsewhere", Key.ENTER);
    await d.see("//h1/following-sibling::*[contains(., 'Reversed')]");
    await d.open(`/payables/payments?${november}&text=Harbour Authority`);
    await d.see("//tr[contains(., '400,000.00')][contains(., 'Reversed')]");
  });

  test("leftovers of an earlier day lead to where they are cleaned up today; by hand that takes a reason", async () => {
    await d.open("/payables/received?company=HSF&book=IFRS&period=2026-10");
    await (await d.see("//a[.='where it stands today']")).click();
    await d.see("//button[starts-with(., 'Preview what the rules')]");
    await (await d.see("(//tr[contains(., 'Fuel filter')]//input[@type='checkbox'])[1]")).click();
    await (await d.button("Clean up 1 by hand")).click();
    await d.see("//*[@role='alert'][contains(., 'reason')]");
    await (
      await d.see("//input[@aria-label='Reason']")
    ).sendKeys("supplier has waived it", Key.ENTER);
    await d.see("//h1[starts-with(., 'Clean-up on')]");
    await (await d.button("Discard")).click();
    await d.see("//h1/following-sibling::*[contains(., 'Discarded')]");
  });
});
