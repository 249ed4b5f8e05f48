import { afterAll, beforeAll, describe, expect, inject, test } from "vitest";
import { By, Key, until, type WebDriver } from "selenium-webdriver";
import { openBrowser, WAIT } from "./browser";
import { drive } from "./drive";

let browser: WebDriver;
const october = "company=HSF&book=IFRS&period=2026-10";
beforeAll(async () => {
  browser = await openBrowser(1280, 800);
});
afterAll(() => browser.quit());

/** Presses keys and counts them: a letter is one, and so is a key with what is held beside it. */
function counter() {
  const d = drive(browser, inject("demo"));
  let count = 0;
  return {
    d,
    type: async (...keys: string[]) => {
      for (const key of keys) {
        count += key.length;
        await d.press(key);
      }
    },
    chord: async (modifiers: string[], key: string) => {
      count++;
      await d.chord(modifiers, key);
    },
    count: () => count,
  };
}

/** From the list of journals to a posted journal with a text, as many lines as there are costs. */
async function post(costs: readonly string[]): Promise<number> {
  const { d, type, chord, count } = counter();
  await d.open(`/ledger/journals?${october}`);
  await d.see("//tbody/tr[@data-row='0']");
  await type("n");
  await browser.wait(until.urlContains("/ledger/journals/new"), WAIT);
  await browser.wait(
    async () =>
      (await browser.executeScript("return document.activeElement?.id")) === "head-description",
    WAIT,
  );
  await type("Pier lamps", Key.ENTER);
  for (const [i, cost] of costs.entries())
    await type("6310", Key.ENTER, ...(i === 0 ? ["harb"] : []), Key.ENTER, cost, Key.ENTER);
  await type("2410", Key.ENTER, "=");
  await chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
  await d.see("//h1[starts-with(., 'HSF-26-')]");
  return count();
}

describe("keys from the list of journals to a posted one", () => {
  test("at most 36 for two lines, 150 for ten, with a text and a cost centre on each line", async () => {
    const { d } = counter();
    await d.signIn("accountant");
    const two = await post(["250"]);
    const ten = await post(["250", "310", "120", "95", "410", "77", "68", "230", "145"]);
    console.log(`Keys: ${two} for a journal of two lines, ${ten} for one of ten.`);
    expect(two).toBeLessThanOrEqual(36);
    expect(ten).toBeLessThanOrEqual(150);
    // The cost centre of the first line stands on each.
    expect(
      (await browser.findElements(By.xpath("//tr[contains(., '6310')][contains(., 'HARB')]")))
        .length,
    ).toBe(9);
  });

  test("lists have their first row at hand, forms their first field, and the strip comes back to today", async () => {
    const d = drive(browser, inject("demo"));
    await d.signIn("controller");
    const focused = () =>
      browser.executeScript<string>(
        "const a = document.activeElement; return a.id || a.dataset.row || a.tagName",
      );
    for (const list of [
      "/ledger/journals",
      "/payables/invoices",
      "/payables/orders",
      "/payables",
    ]) {
      await d.open(`${list}?${october}`);
      await browser.wait(async () => (await focused()) === "0", WAIT, `first row of ${list}`);
    }
    await d.press("t");
    await browser.wait(until.urlContains("period=2026-11"), WAIT);
    await d.open(`/payables/invoices/new?${october}`);
    await browser.wait(async () => (await focused()) === "i-supplier", WAIT, "the supplier");
    // Going back leads to the row that was opened.
    await d.open(`/ledger/journals?${october}`);
    await browser.wait(async () => (await focused()) === "0", WAIT);
    await d.press(Key.ARROW_DOWN, Key.ARROW_DOWN);
    await browser.wait(async () => (await focused()) === "2", WAIT);
    await d.press(Key.ENTER);
    await browser.wait(until.urlMatches(/\/ledger\/journals\/\d+/), WAIT);
    await d.see("//h1");
    await browser.navigate().back();
    await browser.wait(async () => (await focused()) === "2", WAIT, "the row that was opened");
  });
});
