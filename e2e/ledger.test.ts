import { By, Key, until } from "selenium-webdriver";
import { describe, expect, inject, test } from "vitest";
import { DEMO_PASSWORD } from "../src/demo/people";
import { WAIT } from "./browser";
import { browserFor } from "./browserFor";

const base = inject("demo");
const { browser, d } = await browserFor(base);

describe("a journal, from entry to the statement and back", () => {
  test("by keyboard alone: written, checked, corrected at its cell, posted, found in the trial balance and the statement, traced to its line, reversed", async () => {
    await d.signIn("accountant");
    await d.open("/statements/income-statement?company=HSF&book=IFRS&period=2026-10&scale=1");
    const ref = "s!income-statement!quay-maintenance!this!standard";
    const before = await d.figure(ref);

    await d.press("g", "l");
    await browser.wait(until.urlContains("/ledger/trial-balance"), WAIT);
    await d.open("/ledger/journals?company=HSF&period=2026-10");
    await d.text("Journals");
    await d.press("n");
    await browser.wait(until.urlContains("/ledger/journals/new"), WAIT);
    const description = await d.see("//input[@id='head-description']");
    await description.sendKeys("Fenders after the storm");
    const cell = await d.see("//*[@data-cell='0:account']//input | //*[@data-cell='0:account']");
    await cell.click();
    // Part of the name, the first match taken with Enter; the cost centre by its code; amounts
    // without marks.
    await d.press(
      "quay and",
      Key.TAB,
      "harb",
      Key.TAB,
      Key.TAB,
      Key.TAB,
      "4820.50",
      Key.TAB,
      Key.TAB,
    );
    await d.press(
      "2410",
      Key.TAB,
      Key.TAB,
      Key.TAB,
      "Accrual",
      Key.TAB,
      Key.TAB,
      "4820.05",
      Key.TAB,
    );
    await d.chord([Key.CONTROL], Key.ENTER);
    await d.text("1 problem");
    await d.text("differ by 0.45");
    expect(await browser.getCurrentUrl()).toMatch(/\/ledger\/journals\/\d+/);
    // The line is balanced by one key.
    await (await d.see("//*[@data-cell='1:credit']")).click();
    await d.press("=", Key.ENTER);
    await d.see("//*[@data-cell='1:credit' and contains(., '4,820.50')]");
    // A reload in between loses nothing.
    await d.kept();
    await browser.navigate().refresh();
    await d.see("//*[@data-cell='0:account' and contains(., 'Quay and pier maintenance')]");
    await d.see("//*[@data-cell='1:description' and (contains(., 'Accrual'))]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.text("Posted as HSF-26-");
    const title = await d.see("//h1[starts-with(., 'HSF-26-')]");
    const number = await title.getText();
    expect(number).toMatch(/^HSF-26-\d{5}$/);

    await d.open("/statements/income-statement?company=HSF&book=IFRS&period=2026-10&scale=1");
    const after = await d.figure(ref);
    const value = (t: string) => Number(t.replace(/[(),]/g, "")) * 100;
    expect(Math.round(value(after) - value(before))).toBe(482_050);
    // The figure opens with Enter, and the rows lead down to the journal.
    const figure = await browser.findElement(By.css(`[data-trace="${ref}"]`));
    await browser.executeScript("arguments[0].focus()", figure);
    await d.press(Key.ENTER);
    const account = await d.see("//aside[@aria-label='Trace']//button[@data-step='a.6310']");
    await account.sendKeys(Key.ENTER);
    const line = await d.see(`//aside[@aria-label='Trace']//button[contains(., '${number}')]`);
    await line.sendKeys(Key.ENTER);
    await d.see(
      `//aside[@aria-label='Trace']//*[contains(., '${number} · Fenders after the storm')]`,
    );
    expect(await browser.getCurrentUrl()).toMatch(/trace=.*j\.\d+/);
    await d.chord([Key.ALT], Key.ARROW_LEFT);
    await browser.wait(async () => !/j\.\d+/.test(await browser.getCurrentUrl()), WAIT);
    await d.press(Key.ESCAPE);
    await browser.wait(async () => !(await browser.getCurrentUrl()).includes("trace="), WAIT);

    await d.open(`/ledger/journals/${number}?company=HSF&period=2026-10`);
    await (await d.button("Reverse")).click();
    await (await d.button("Post the reversal")).click();
    await d.text("Reversed by HSF-26-");
    await d.open("/statements/income-statement?company=HSF&book=IFRS&period=2026-10&scale=1");
    expect(await d.figure(ref)).toBe(before);
  });

  test("pasted from a spreadsheet, undone and redone, kept, and deleted", async () => {
    await d.open("/ledger/journals/new?company=HSF&period=2026-10");
    await (await d.see("//input[@id='head-description']")).sendKeys("Pasted");
    await (await d.see("//*[@data-cell='0:account']")).click();
    await browser.executeScript(
      `const data = new DataTransfer(); data.setData("text/plain", "6310\\tHARB\\t\\tOne\\t1,000.00\\n6320\\tHARB\\t\\tTwo\\t2000\\n2410\\t\\t\\tAll\\t\\t3,000.00\\n"); document.activeElement.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));`,
    );
    await d.see("//*[@data-cell='1:account' and contains(., 'Dredging')]");
    await d.see("//*[@data-cell='1:debit' and contains(., '2,000.00')]");
    await d.chord([Key.CONTROL], "z");
    await browser.wait(async () => !(await d.bodyText()).includes("Dredging"), WAIT);
    await d.chord([Key.CONTROL], "y");
    await d.see("//*[@data-cell='1:account' and contains(., 'Dredging')]");
    await browser.wait(async () => /journals\/\d+/.test(await browser.getCurrentUrl()), WAIT);
    await (await d.see("//button[@aria-label='Delete this draft']")).click();
    await browser.wait(until.urlMatches(/\/ledger\/journals\?/), WAIT);
  });
});

describe("the close", () => {
  test("a draft in the period stops it; the door leads there; then it closes, refuses postings, and reopens with a reason", async () => {
    await d.signIn("controller");
    await d.open("/close?company=HSF&book=IFRS&period=2026-09");
    await d.text("No drafts dated in the period");
    await (await d.button("Close the period")).click();
    await d.text("One check fails");
    await (await d.see("//tr[contains(., 'No drafts dated')]//a")).click();
    await browser.wait(until.urlMatches(/\/ledger\/journals\/\d+/), WAIT);
    await d.see("//*[@data-cell='0:account']");
    await (await d.see("//button[@aria-label='Delete this draft']")).click();
    await browser.wait(until.urlMatches(/\/ledger\/journals\?/), WAIT);
    await d.open("/close?company=HSF&book=IFRS&period=2026-09");
    await (await d.button("Close the period")).click();
    await d.text("is closed in IFRS");
    await d.see("//h1/following-sibling::span[contains(., 'Closed')]");
    const answer = await browser.executeAsyncScript<{ status: number; body: string }>(
      `const done = arguments[arguments.length - 1]; (async () => { const t = await (await fetch("/api/v1/tokens", { method: "POST", body: JSON.stringify({ user: "accountant", password: "${DEMO_PASSWORD}" }) })).json();
       const r = await fetch("/api/v1/journals", { method: "POST", headers: { authorization: "Bearer " + t.token }, body: JSON.stringify({ company: "HSF", type: "general", date: "2026-09-30", description: "Late", post: true, lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, debit: "1.00" }, { account: "2410", credit: "1.00" }] }) });
       done({ status: r.status, body: await r.text() }); })();`,
    );
    expect(answer).toMatchObject({
      status: 422,
      body: expect.stringContaining("PERIOD_CLOSED") as string,
    });
    await (await d.button("Reopen")).click();
    await (
      await d.see("//input[@aria-label='Reason']")
    ).sendKeys("an invoice came late", Key.ENTER);
    await d.text("is open in IFRS");
    await d.text("an invoice came late");
  });
});
