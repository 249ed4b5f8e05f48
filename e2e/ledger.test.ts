import { By, Key, until, type WebDriver, type WebElement } from "selenium-webdriver";
import { afterAll, beforeAll, describe, expect, inject, test } from "vitest";
import { DEMO_PASSWORD } from "../src/demo/people";
import { openBrowser, setSize, signInAs } from "./browser";

let browser: WebDriver;
const base = inject("demo");
const WAIT = 15_000;

beforeAll(async () => {
  browser = await openBrowser();
});
afterAll(async () => browser?.quit());

const open = async (path: string) => {
  await browser.get(base + path);
  await setSize(browser, 1280, 800);
};
const see = (xpath: string): Promise<WebElement> => browser.wait(until.elementLocated(By.xpath(xpath)), WAIT, xpath) as unknown as Promise<WebElement>;
const text = (words: string) => see(`//*[contains(normalize-space(.), ${quoted(words)}) and not(*[contains(normalize-space(.), ${quoted(words)})])]`);
const button = (words: string) => see(`//button[starts-with(normalize-space(.), ${quoted(words)})]`);
const quoted = (s: string) => (s.includes("'") ? `"${s}"` : `'${s}'`);
const press = (...keys: string[]) => browser.actions().sendKeys(...keys).perform();
const chord = async (modifiers: string[], key: string) => {
  const actions = browser.actions();
  for (const m of modifiers) actions.keyDown(m);
  actions.sendKeys(key);
  for (const m of modifiers) actions.keyUp(m);
  await actions.perform();
};
const bodyText = () => browser.findElement(By.css("body")).getText();
const figureOf = async (ref: string): Promise<string> => (await browser.wait(until.elementLocated(By.css(`[data-trace="${ref}"]`)), WAIT)).getText();

describe("a journal, from entry to the statement and back", () => {
  test("by keyboard alone: written, checked, corrected at its cell, posted, found in the trial balance and the statement, traced to its line, reversed", async () => {
    await signInAs(browser, base, "accountant", DEMO_PASSWORD);
    await open("/statements/income-statement?company=HSF&book=IFRS&period=2026-10&scale=1");
    const ref = "s!income-statement!quay-maintenance!this!standard";
    const before = await figureOf(ref);

    await press("g", "l");
    await browser.wait(until.urlContains("/ledger/trial-balance"), WAIT);
    await open("/ledger/journals?company=HSF&period=2026-10");
    await text("Journals");
    await press("n");
    await browser.wait(until.urlContains("/ledger/journals/new"), WAIT);
    const description = await see("//input[@id='head-description']");
    await description.sendKeys("Fenders after the storm");
    const cell = await see("//*[@data-cell='0:account']//input | //*[@data-cell='0:account']");
    await cell.click();
    // Part of the name, the first match taken with Enter; the cost centre by its code; amounts without marks.
    await press("quay and", Key.ENTER, "harb", Key.ENTER, Key.TAB, Key.TAB, "4820.50", Key.ENTER, Key.ENTER);
    await press("2410", Key.ENTER, Key.TAB, Key.TAB, "Accrual", Key.ENTER, Key.TAB, "4820.05", Key.ENTER);
    await chord([Key.CONTROL], Key.ENTER);
    await text("1 problem");
    await text("differ by 0.45");
    expect(await browser.getCurrentUrl()).toMatch(/\/ledger\/journals\/\d+/);
    // The line is balanced by one key.
    await (await see("//*[@data-cell='1:credit']")).click();
    await press("=");
    await browser.wait(async () => (await (await see("//*[@data-cell='1:credit']//input")).getAttribute("value")) === "4,820.50", WAIT);
    // A reload in between loses nothing.
    await text("saved");
    await browser.sleep(1500);
    await browser.navigate().refresh();
    await see("//*[@data-cell='0:account' and contains(., 'Quay and pier maintenance')]");
    await see("//*[@data-cell='1:description' and (contains(., 'Accrual'))]");
    await chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await text("Posted as HSF-26-");
    const title = await see("//h1[starts-with(., 'HSF-26-')]");
    const number = await title.getText();
    expect(number).toMatch(/^HSF-26-\d{5}$/);

    await open("/statements/income-statement?company=HSF&book=IFRS&period=2026-10&scale=1");
    const after = await figureOf(ref);
    const value = (t: string) => Number(t.replace(/[(),]/g, "")) * 100;
    expect(Math.round(value(after) - value(before))).toBe(482_050);
    // The figure opens with Enter, and the rows lead down to the journal.
    const figure = await browser.findElement(By.css(`[data-trace="${ref}"]`));
    await browser.executeScript("arguments[0].focus()", figure);
    await press(Key.ENTER);
    const account = await see("//aside[@aria-label='Trace']//button[@data-step='a.6310']");
    await account.sendKeys(Key.ENTER);
    const line = await see(`//aside[@aria-label='Trace']//button[contains(., '${number}')]`);
    await line.sendKeys(Key.ENTER);
    await see(`//aside[@aria-label='Trace']//*[contains(., '${number} · Fenders after the storm')]`);
    expect(await browser.getCurrentUrl()).toMatch(/trace=.*j\.\d+/);
    await chord([Key.ALT], Key.ARROW_LEFT);
    await browser.wait(async () => !/j\.\d+/.test(await browser.getCurrentUrl()), WAIT);
    await press(Key.ESCAPE);
    await browser.wait(async () => !(await browser.getCurrentUrl()).includes("trace="), WAIT);

    await open(`/ledger/journals/${number}?company=HSF&period=2026-10`);
    await (await button("Reverse")).click();
    await (await button("Post the reversal")).click();
    await text("Reversed by HSF-26-");
    await open("/statements/income-statement?company=HSF&book=IFRS&period=2026-10&scale=1");
    expect(await figureOf(ref)).toBe(before);
  });

  test("pasted from a spreadsheet, undone and redone, kept, and deleted", async () => {
    await open("/ledger/journals/new?company=HSF&period=2026-10");
    await (await see("//input[@id='head-description']")).sendKeys("Pasted");
    await (await see("//*[@data-cell='0:account']")).click();
    await browser.executeScript(
      `const data = new DataTransfer(); data.setData("text/plain", "6310\\tHARB\\t\\tOne\\t1,000.00\\n6320\\tHARB\\t\\tTwo\\t2000\\n2410\\t\\t\\tAll\\t\\t3,000.00\\n"); document.activeElement.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));`,
    );
    await see("//*[@data-cell='1:account' and contains(., 'Dredging')]");
    await see("//*[@data-cell='1:debit' and contains(., '2,000.00')]");
    await chord([Key.CONTROL], "z");
    await browser.wait(async () => !(await bodyText()).includes("Dredging"), WAIT);
    await chord([Key.CONTROL], "y");
    await see("//*[@data-cell='1:account' and contains(., 'Dredging')]");
    await browser.wait(async () => /journals\/\d+/.test(await browser.getCurrentUrl()), WAIT);
    await (await see("//button[@aria-label='Delete this draft']")).click();
    await browser.wait(until.urlMatches(/\/ledger\/journals\?/), WAIT);
  });
});

describe("the close", () => {
  test("a draft in the period stops it; the door leads there; then it closes, refuses postings, and reopens with a reason", async () => {
    await signInAgain("controller");
    await open("/close?company=HSF&book=IFRS&period=2026-09");
    await text("No drafts dated in the period");
    await (await button("Close the period")).click();
    await text("One check fails");
    await (await see("//tr[contains(., 'No drafts dated')]//a")).click();
    await browser.wait(until.urlMatches(/\/ledger\/journals\/\d+/), WAIT);
    await see("//*[@data-cell='0:account']");
    await (await see("//button[@aria-label='Delete this draft']")).click();
    await browser.wait(until.urlMatches(/\/ledger\/journals\?/), WAIT);
    await open("/close?company=HSF&book=IFRS&period=2026-09");
    await (await button("Close the period")).click();
    await text("is closed in IFRS");
    await see("//h1/following-sibling::span[contains(., 'Closed')]");
    const answer = await browser.executeAsyncScript<{ status: number; body: string }>(
      `const done = arguments[arguments.length - 1]; (async () => { const t = await (await fetch("/api/v1/tokens", { method: "POST", body: JSON.stringify({ user: "accountant", password: "${DEMO_PASSWORD}" }) })).json();
       const r = await fetch("/api/v1/journals", { method: "POST", headers: { authorization: "Bearer " + t.token }, body: JSON.stringify({ company: "HSF", type: "general", date: "2026-09-30", description: "Late", post: true, lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, debit: "1.00" }, { account: "2410", credit: "1.00" }] }) });
       done({ status: r.status, body: await r.text() }); })();`,
    );
    expect(answer).toMatchObject({ status: 422, body: expect.stringContaining("PERIOD_CLOSED") as string });
    await (await button("Reopen")).click();
    await (await see("//input[@aria-label='Reason']")).sendKeys("an invoice came late", Key.ENTER);
    await text("is open in IFRS");
    await text("an invoice came late");
  });
});

async function signInAgain(login: string): Promise<void> {
  await browser.manage().deleteAllCookies();
  await signInAs(browser, base, login, DEMO_PASSWORD);
  await setSize(browser, 1280, 800);
}
