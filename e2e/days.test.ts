import { By, Key, until } from "selenium-webdriver";
import { describe, expect, inject, test } from "vitest";
import { WAIT } from "./browser";
import { browserFor } from "./browserFor";

// What follows when the demo's days go on: on a demo of its own, for all others stay on one day.
const base = inject("demo");
const november = "company=HSF&book=IFRS&period=2026-11";
const { browser, d } = await browserFor(base);
const textOf = async (xpath: string): Promise<string> => {
  const read = async () => (await d.see(xpath)).getText();
  return read().catch(read);
};
const LIST = "//section[@aria-label='Customers by score']";

/** The customers of the desk in their order, those in sight. */
const ranking = async (): Promise<string[]> => {
  await d.open(`/receivables/desk?${november}&collector=all`);
  await browser.wait(until.urlContains("partner="), WAIT);
  await d.see(`${LIST}//li[5]//b`);
  const names = await browser.findElements(By.xpath(`${LIST}//li//b[1]`));
  return Promise.all(names.slice(0, 12).map((n) => n.getText()));
};
/** One customer at the desk, and no other. */
const deskOf = async (name: string) => {
  await d.open(`/receivables/desk?${november}&collector=all&text=${encodeURIComponent(name)}`);
  await browser.wait(until.urlContains("partner="), WAIT);
  await d.see(`//section[@aria-label="${name}"]`);
};
/** The statements of a day at the bank come in. */
const takeIn = async (day: string) => {
  await d.open(`/banks/statements?${november}`);
  await d.click("//button[starts-with(normalize-space(.), 'Next day at the bank')]");
  await d.see(`//tbody/tr[contains(., 'hsf-main-${day}')]`);
};
const goOn = async (day: string) => {
  await d.open(`/banks/statements?${november}`);
  await (await d.button("Go on to the next day")).click();
  await d.see(`//*[contains(., 'The demo’s day is ${day} now')]`);
};

describe("the bank's next days", () => {
  test("one promise is kept, one is broken, a receipt by hand arrives; the ranking changes and says why", async () => {
    await d.signIn("receivables");
    const before = await ranking();
    const promised = before.slice(0, 6);
    for (const name of promised) {
      await deskOf(name);
      await d.click(`(//tbody/tr[not(contains(., 'dispute'))]//input[@type='checkbox'])[1]`);
      await d.click("//h1");
      await d.press("p");
      // Friday is the first day that is offered, and tomorrow.
      await d.see("//select[@id='promise-when']");
      await d.click("//form//button[normalize-space(.)='Note the promise']");
      await d.see("//aside//li[contains(., 'Promise')][contains(., '6 Nov 2026')]");
    }
    // A receipt by hand, short of one item in dispute.
    await d.open(`/receivables/receipts/new?${november}`);
    await d.see("//*[@id='r-customer'][@id]");
    await d.press("C-203");
    await d.field("r-amount", "100.00");
    await d.see("//p[contains(., 'Proposed: the oldest first')]");
    await d.see("//td//select[starts-with(@aria-label, 'What is left of')]");
    await d.click(
      "//td//select[starts-with(@aria-label, 'What is left of')]/option[.='is in dispute']",
    );
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//*[@role='alert'][contains(., 'Say what is disputed')]");
    await d.click(
      "//td//select[starts-with(@aria-label, 'What is disputed of')]/option[.='price']",
    );
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//*[contains(., 'is recorded')]");
    await d.open(`/receivables/receipts?${november}`);
    await d.click("//tbody/tr[contains(., 'Sable Tours')][contains(., '100.00')]//td[2]");
    await d.see("//*[contains(., 'not on a statement yet')]");
    const receipt = browser.getCurrentUrl();

    await d.signIn("treasury");
    await takeIn("2026-11-05");
    await goOn("6 Nov 2026");
    await takeIn("2026-11-06");
    await goOn("9 Nov 2026");
    await d.open(`/banks/lines?${november}`);
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[contains(., 'ines')]");
    await (await d.button("Post")).click();
    await d.see("//h1/following::*[contains(., 'posted')]");

    await d.signIn("receivables");
    await browser.get(await receipt);
    await d.see("//*[contains(., 'Statement')]");
    const after = await ranking();
    expect(after).not.toEqual(before);
    const states = new Set<string>();
    for (const name of promised) {
      await d.open(`/receivables/desk?${november}&collector=all&text=${encodeURIComponent(name)}`);
      const said = await textOf("//aside//li[contains(., 'Promise')][contains(., '6 Nov 2026')]");
      for (const state of ["kept", "broken", "part"]) if (said.includes(state)) states.add(state);
    }
    expect([...states]).toEqual(expect.arrayContaining(["broken", "kept"]));
  });
});
