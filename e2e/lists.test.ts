import { By, Key, until } from "selenium-webdriver";
import { expect, inject, test } from "vitest";
import { WAIT } from "./browser";
import { browserFor } from "./browserFor";

const base = inject("demo");
const { browser, d } = await browserFor(base);

const YEAR = "/ledger/journals?company=HSF&book=IFRS&from=2026-01&period=2026-11";
const filter = (name: string) => d.see(`//input[@aria-label='Filter ${name}']`);
const rows = async () => {
  const text = await (await d.see("//span[@role='status' and contains(., 'row')]")).getText();
  return Number(text.replace(/[^\d]/g, ""));
};
const fewer = (than: number) => browser.wait(async () => (await rows()) < than, WAIT, "fewer rows");

test("a list of a year: filtered while the server answers, sorted, kept under a name, taken again, read to its end", async () => {
  await d.signIn("controller");
  await d.open(YEAR);
  const all = await rows();
  expect(all).toBeGreaterThan(500);
  const description = await filter("Description");
  // Letter by letter, slower than a rest of typing and faster than an answer.
  for (const letter of "Ticket sales") {
    await description.sendKeys(letter);
    await browser.sleep(letter === "t" || letter === "s" ? 450 : 20);
  }
  await fewer(all);
  expect(await description.getAttribute("value")).toBe("Ticket sales");
  const some = await rows();
  await (await filter("Amount")).sendKeys(">500,000");
  await fewer(some);
  const few = await rows();
  await d.click("//th//button[contains(., 'Amount')]");
  await browser.wait(until.urlContains("sort=amount"), WAIT);
  const amounts = async () => {
    const cells = await browser.findElements(By.css("tbody tr[data-row] td:last-child"));
    const texts = await Promise.all(cells.map((c) => c.getText()));
    return texts.map((t) => Number(t.replaceAll(",", "")));
  };
  await browser.wait(async () => {
    const shown = await amounts();
    return shown.length > 0 && shown.every((a, i) => a > 500_000 && a >= (shown[i - 1] ?? 0));
  }, WAIT);

  await d.click("//button[@aria-label='Saved filters']");
  await (
    await d.see("//input[@aria-label='Name of the filter']")
  ).sendKeys("Large sales", Key.ENTER);
  await d.see("//button[normalize-space(.)='Large sales']");
  await d.press(Key.ESCAPE);
  await d.click("//button[normalize-space(.)='Clear filters']");
  await browser.wait(async () => (await rows()) === all, WAIT);

  await d.open(YEAR);
  await d.click("//button[@aria-label='Saved filters']");
  await d.click("//button[normalize-space(.)='Large sales']");
  await browser.wait(async () => (await rows()) === few, WAIT);
  // A row is opened by keyboard; going back finds the list as it was.
  await (await d.see("//tr[@data-row='0']")).click();
  await browser.wait(until.urlMatches(/\/ledger\/journals\/\d+/), WAIT);
  await browser.navigate().back();
  await browser.wait(async () => (await rows()) === few, WAIT);
  expect(await (await filter("Amount")).getAttribute("value")).toBe(">500,000");

  await d.open(YEAR);
  await d.see("//tr[@data-row='0']");
  await browser.executeScript("document.querySelector('tr[data-row]').focus()");
  await browser.wait(async () => {
    await d.press(Key.END);
    const at = await browser.executeScript<string>(
      "return document.activeElement.getAttribute('data-row') ?? ''",
    );
    return Number(at) === all - 1;
  }, WAIT * 2);
});
