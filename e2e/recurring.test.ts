import { By, Key } from "selenium-webdriver";
import { describe, expect, inject, test } from "vitest";
import { WAIT } from "./browser";
import { browserFor } from "./browserFor";

const base = inject("demo");
const october = "company=HSF&book=IFRS&period=2026-10";
const { browser, d } = await browserFor(base);

const { cell } = d;

describe("recurring journals", () => {
  test("set up by keyboard with rules in the amounts, wrong at first; due in the list; run with an amount that is asked for; found and read beside the account", async () => {
    await d.signIn("controller");
    await d.open(`/ledger/recurring/new?${october}`);
    await (await d.see("//*[@id='r-name']")).sendKeys("Lighthouse levy");
    await cell("0:account");
    await d.press(
      "7470",
      Key.TAB,
      "a-fin",
      Key.TAB,
      Key.TAB,
      Key.TAB,
      "4 parts of 4010",
      Key.TAB,
      Key.TAB,
    );
    await d.press(
      "6630",
      Key.TAB,
      "r-kes",
      Key.TAB,
      Key.TAB,
      "Beacon meter",
      Key.TAB,
      "?",
      Key.TAB,
      Key.TAB,
    );
    await d.press("2410", Key.TAB, Key.TAB, Key.TAB, Key.TAB, Key.TAB, "rest", Key.TAB);
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//*[@data-cell='0:debit' and @aria-invalid='true']");
    await cell("0:debit");
    await d.press("1% of 4010 in R-OST", Key.ENTER);
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[.='Lighthouse levy']");

    await d.open(`/ledger/recurring?${october}`);
    await (await d.see("//tr[contains(., 'Lighthouse levy')]//input[@type='checkbox']")).click();
    await (await d.button("Preview 1 journal")).click();
    await d.see("//tr[contains(., 'Lighthouse levy')][contains(., 'waits for an amount')]");
    expect(await (await d.button("Post 0 journals")).isEnabled()).toBe(false);
    await (await d.see("//tr[contains(., 'Lighthouse levy')]")).click();
    await d.press("1,204.50", Key.ENTER);
    await d.see("//tr[contains(., 'Lighthouse levy')][contains(., 'yes')]");
    await (await d.button("Post 1 journal")).click();
    await d.text("posted by");
    await d.open(`/ledger/accounts/6630,7470?${october}&companies=HSF,MBY`);
    await (await d.see("//tr[contains(., 'Beacon meter')]")).click();
    const beside = await d.see("//aside[starts-with(@aria-label, 'HSF-26-')]");
    await browser.wait(
      async () => /1,204\.50[\s\S]*2410/.test(await beside.getText()),
      WAIT,
      "the journal beside",
    );
    expect(await browser.findElement(By.css("h1")).getText()).toBe("Accounts 6630,7470");
  });
});

describe("the grid", () => {
  test("rows with headings in another order go into a started journal; what is selected is summed, what is looked for is found, whole lines are copied", async () => {
    await d.signIn("accountant");
    await d.open(`/ledger/journals/new?${october}`);
    await d.field("head-description", "Stores by cost centre");
    await cell("0:account");
    await d.press("2410", Key.TAB, Key.TAB, Key.TAB, Key.TAB, Key.TAB, "1750,50", Key.TAB);
    await cell("1:account");
    await browser.executeScript(
      "const data = new DataTransfer(); data.setData('text/plain', arguments[0]); document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));",
      "Text\tAmount\tCost centre\tGL account\nRopes\t1.250,50\tHARB\t6310\n\t\t\t\nPaint\t500,00\tHARB\t6310\nNothing\t\tHARB\t6310",
    );
    await d.text("3 rows taken by their headings");
    await d.text("Set aside: 1 blank");
    // A line without an amount stays, so that nobody misses it.
    await d.see("//*[@data-cell='3:description' and contains(., 'Nothing')]");
    await cell("3:description");
    await d.chord([Key.CONTROL], Key.DELETE);
    await d.see("//*[@data-cell='1:debit' and contains(., '1,250.50')]");
    await d.see("//*[@data-cell='2:description' and contains(., 'Paint')]");
    await d.see("//*[@data-cell='0:credit' and contains(., '1,750.50')]");
    await cell("1:debit");
    await d.chord([Key.SHIFT], Key.ARROW_DOWN);
    await d.see("//*[@aria-label='Selection'][contains(., '2 lines')][contains(., '1,750.50')]");
    await d.chord([Key.CONTROL], "f");
    await (await d.see("//input[@aria-label='Find in the lines']")).sendKeys("paint", Key.ENTER);
    await d.see("//*[@role='search'][contains(., '1 of 1')]");
    await d.press(Key.ESCAPE);
    await d.see("//*[@data-cell='2:description' and @aria-selected='true']");
    await d.chord([Key.CONTROL, Key.SHIFT], "d");
    await d.see("//*[@data-cell='3:description' and contains(., 'Paint')]");
    await d.chord([Key.CONTROL], "z");
    await d.kept();
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[starts-with(., 'HSF-26-')]");
  });
});
