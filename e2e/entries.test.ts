import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { By, Key, until } from "selenium-webdriver";
import { describe, expect, inject, test } from "vitest";
import { WAIT } from "./browser";
import { browserFor } from "./browserFor";

const base = inject("demo");
const october = "company=HSF&book=IFRS&period=2026-10";
const { browser, d } = await browserFor(base);

const { cell } = d;
const posted = async (): Promise<string> =>
  (await d.see("//h1[starts-with(., 'HSF-26-')]")).getText();

describe("entries", () => {
  test("a berth fee in ISK shared by two companies: computed, balanced by a key, seen before it is posted, linked, found in the account of the other", async () => {
    await d.signIn("accountant");
    await d.open(`/ledger/journals/new?${october}`);
    await d.field("head-description", "Berth fee shared");
    await (await d.see("//*[@id='head-currency']/option[.='ISK']")).click();
    await (await d.button("More")).click();
    await (await d.see("//button[@role='menuitem'][normalize-space(.)='Company']")).click();
    await d.see("//*[@data-cell='0:company']");
    await cell("0:account");
    await d.press("6210", Key.TAB, "r-kes", Key.TAB, Key.TAB, Key.TAB, "=150000*0.6", Key.TAB);
    await d.see("//*[@data-cell='0:debit' and contains(., '90,000')]");
    await cell("1:company");
    await d.press(
      "KIT",
      Key.TAB,
      "6210",
      Key.TAB,
      "t-north",
      Key.TAB,
      Key.TAB,
      Key.TAB,
      "60000",
      Key.TAB,
    );
    await cell("2:account");
    await d.press("2410", Key.ENTER);
    await cell("2:credit");
    await d.press("=", Key.ENTER);
    await d.see("//*[@data-cell='2:credit' and contains(., '150,000')]");
    await (await d.button("Effect")).click();
    await d.see(
      "//aside[@aria-label='Effect']//*[contains(., 'Journal of Kestle Island Terminals, ISK and USD')]",
    );
    await d.see(
      "//aside[@aria-label='Effect']//tr[contains(., '1340')][contains(., 'between companies')]",
    );
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await posted();
    // The other company's journal opens beside this one; the working company stays.
    await (await d.see("//button[starts-with(., 'KIT-26-')]")).click();
    await d.see("//aside[starts-with(@aria-label, 'KIT-26-')]//tr[contains(., '2150')]");
    await posted();
    await d.open("/ledger/accounts/2150?company=KIT&book=IFRS&period=2026-10");
    await d.text("Berth fee shared");
    await d.open(`/ledger/pairs?${october}`);
    await d.see(
      "//tr[contains(., 'Kestle Island Terminals')][contains(., 'ISK')][contains(., '60,000')]//*[contains(., 'Agrees')]",
    );
  });

  test("an accrual proposes its reversal for the first of next month, which is due then and posts by a run", async () => {
    await d.signIn("controller");
    await d.open(`/ledger/journals/new?${october}`);
    await (await d.see("//*[@id='head-type']/option[@value='accrual']")).click();
    await browser.wait(
      async () =>
        (await (await d.see("//*[@id='head-reverses-on']")).getAttribute("value")) === "1 Nov 2026",
      WAIT,
      "the day of the reversal",
    );
    expect(await (await d.see("//*[@id='head-description']")).getAttribute("value")).toBe(
      "Accrual, Oct: ",
    );
    await (await d.see("//*[@id='head-description']")).sendKeys("dredging");
    await cell("0:account");
    await d.press("6320", Key.TAB, "harb", Key.TAB, Key.TAB, Key.TAB, "700", Key.TAB, Key.TAB);
    await d.press("2410", Key.TAB, Key.TAB, Key.TAB, Key.TAB, Key.TAB, "700", Key.TAB);
    await d.kept();
    await (await d.button("Post")).click();
    const number = await posted();
    await d.open("/ledger/reversals?company=HSF&book=IFRS&period=2026-11");
    await d.see(`//*[contains(., '${number}')]`);
    await (await d.button("Preview")).click();
    await browser.wait(until.urlContains("/runs/"), WAIT);
    await d.see(`//*[@role='row' or self::tr][contains(., '${number}')]`);
    await (await d.button("Post ")).click();
    await d.text("Posted ");
    await d.open(`/ledger/journals/${number}?${october}`);
    await d.text("Reversed by");
  });

  test("a coding is saved as a shortcut and typed by its name; a journal is saved as a template and started from", async () => {
    await d.signIn("accountant");
    await d.open(`/ledger/journals/new?${october}`);
    await d.field("head-description", "Pier lights");
    await cell("0:account");
    await d.press("6310", Key.TAB, "harb", Key.TAB, "p-072", Key.TAB, "Lamps", Key.TAB);
    await cell("0:account");
    await (await d.button("More")).click();
    await (await d.see("//button[@role='menuitem'][contains(., 'as a shortcut')]")).click();
    await (await d.see("//input[@aria-label='Name of the shortcut']")).sendKeys("lamps", Key.ENTER);
    await d.text("Type @lamps");
    await (await d.button("More")).click();
    await (await d.see("//button[@role='menuitem'][contains(., 'Save as a template')]")).click();
    await (
      await d.see("//input[@aria-label='Name of the template']")
    ).sendKeys(" template", Key.ENTER);
    await d.text("saved.");
    await (await d.see("//button[@aria-label='Delete this draft']")).click();
    await browser.wait(until.urlMatches(/\/ledger\/journals\?/), WAIT);
    await d.open(`/ledger/journals/new?${october}`);
    await cell("0:account");
    await d.press("@lam", Key.ENTER);
    await d.see("//*[@data-cell='0:account' and contains(., '6310')]");
    await d.see("//*[@data-cell='0:d.project' and contains(., 'P-072')]");
    await (await d.button("More")).click();
    await (await d.see("//button[@role='menuitem'][contains(., 'Start from a template')]")).click();
    await (
      await d.see("//select[@aria-label='Template']/option[contains(., 'Pier lights template')]")
    ).click();
    await d.see("//*[@data-cell='0:description' and contains(., 'Lamps')]");
  });
});

describe("a batch of harbour-works papers", () => {
  test("misses its control total, is refused, is put right, and posts as a whole", async () => {
    await d.signIn("accountant");
    await d.open(`/ledger/batches?${october}`);
    await (await d.button("New batch")).click();
    await (await d.see("//input[@aria-label='Control total 1']")).sendKeys("1500");
    await (await d.button("Add batch")).click();
    await browser.wait(until.urlMatches(/\/ledger\/batches\/\d+/), WAIT);
    const batch = new URL(await browser.getCurrentUrl()).pathname;
    const add = async (amount: string) => {
      await d.open(`${batch}?${october}`);
      await (await d.see("//a[contains(., 'New journal in it')]")).click();
      await d.see("//*[@id='head-description']");
      await d.field("head-description", `Paper of ${amount}`);
      await cell("0:account");
      await d.press("6310", Key.TAB, "harb", Key.TAB, Key.TAB, Key.TAB, amount, Key.TAB, Key.TAB);
      await d.press("2410", Key.TAB, Key.TAB, Key.TAB, Key.TAB, Key.TAB, amount, Key.TAB);
      await d.kept();
      await browser.wait(
        async () => /journals\/\d+/.test(await browser.getCurrentUrl()),
        WAIT,
        "saved",
      );
    };
    for (const amount of ["100", "200", "300", "400"]) await add(amount);
    await add("490");
    await d.open(`${batch}?${october}`);
    await d.text("Still missing");
    await d.see("//*[contains(., 'Still missing')]/following-sibling::*[contains(., '10.00')]");
    await (await d.button("Post 5 journals")).click();
    await d.text("10.00 is missing");
    await (await d.see("//tr[contains(., 'Paper of 490')]//a")).click();
    await cell("0:debit");
    await d.press("500", Key.ENTER);
    await cell("1:credit");
    await d.press("500", Key.ENTER);
    await d.kept();
    await d.open(`${batch}?${october}`);
    await d.text("Agrees");
    await (await d.button("Post 5 journals")).click();
    await d.text("Posted 5 journals");
    await d.see("//td/a[starts-with(., 'HSF-26-')]");
    expect((await browser.findElements(By.xpath("//td/a[starts-with(., 'HSF-26-')]"))).length).toBe(
      5,
    );
  });
});

describe("a load", () => {
  test("of 640 rows with mistakes of several kinds: understood, corrected in place, posted; the same again is noticed", async () => {
    const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-load-"));
    const file = path.join(folder, "fuel.csv");
    const rows = ["Voucher;Posting date;GL account;Cost centre;Text;Amount"];
    for (let j = 0; j < 8; j++) {
      for (let i = 0; i < 79; i++) {
        // A wrong account, a cost centre that is not there, one that is missing, too many decimals:
        // each in a journal of its own.
        const account = j === 1 && i === 3 ? "50100" : "5010";
        const centre = j === 2 && i === 4 ? "" : j === 3 && i === 5 ? "V-XX" : "V-LAN";
        rows.push(
          `FC-${j};28.10.2026;${account};${centre};Card ${i};${j === 4 && i === 6 ? "10,005" : "10,00"}`,
        );
      }
      rows.push(`FC-${j};28.10.2026;2410;;Fuel cards;-790,00`);
    }
    rows.splice(100, 0, ";;;;;");
    writeFileSync(file, rows.join("\n"));
    await d.signIn("accountant");
    await d.open(`/ledger/load?${october}`);
    await (await browser.findElement(By.css("input[type=file]"))).sendKeys(file);
    await d.text("640 rows in 8 journals");
    await d.text("Set aside: 1 blank");
    await d.text("problems in 4 journals");
    const fix = async (value: string) => {
      await d.click("//button[contains(., 'go to the next')]");
      await browser.sleep(250);
      await d.press(value, Key.ENTER);
    };
    await fix("5010");
    await fix("V-LAN");
    await fix("V-LAN");
    await fix("10.00");
    await d.text("Nothing stands in the way");
    expect((await browser.findElements(By.css("[data-changed]"))).length).toBeGreaterThan(0);
    await (await d.button("Post 8 journals")).click();
    await d.text("8 journals loaded");
    await d.see("//td/a[starts-with(., 'HSF-26-')]");
    expect((await browser.findElements(By.xpath("//td/a[starts-with(., 'HSF-26-')]"))).length).toBe(
      8,
    );
    await d.open(`/ledger/load?${october}`);
    await browser.executeScript(
      `const data = new DataTransfer(); data.setData("text/plain", arguments[0]); document.body.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));`,
      "Account\tCost centre\tDebit\tCredit\n6310\tHARB\t12.00\t\n2410\t\t\t12.00\n",
    );
    await d.field("l-desc", "Twice");
    await d.text("Nothing stands in the way");
    await (await d.button("Post 1 journal")).click();
    await d.text("1 journal loaded");
    await d.open(`/ledger/load?${october}`);
    await browser.executeScript(
      `const data = new DataTransfer(); data.setData("text/plain", arguments[0]); document.body.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));`,
      "Account\tCost centre\tDebit\tCredit\n6310\tHARB\t12.00\t\n2410\t\t\t12.00\n",
    );
    await d.text("loaded the same journal");
    await d.see("//button[contains(., 'Post 0 journals') and @disabled]");
    await (await d.button("Load it again")).click();
    await (await d.button("Post 1 journal")).click();
    await d.text("1 journal loaded");
  });
});

describe("approval", () => {
  test("a journal from 50,000 EUR up goes to the controller, who sees its effect, returns it with a reason, and approves it when it comes again", async () => {
    await d.signIn("accountant");
    await d.open(`/ledger/journals/new?${october}`);
    await d.field("head-description", "Winter lay-up, provision");
    await cell("0:account");
    await d.press("6420", Key.TAB, "v-cur", Key.TAB, Key.TAB, Key.TAB, "60000", Key.TAB, Key.TAB);
    await d.press("2410", Key.TAB, Key.TAB, Key.TAB, Key.TAB, Key.TAB, "60000", Key.TAB);
    await (await d.button("Send for approval")).click();
    await d.see("//h1/following-sibling::span[contains(., 'Waiting')]");
    const journal = new URL(await browser.getCurrentUrl()).pathname;
    expect(
      (await browser.findElements(By.xpath("//button[starts-with(., 'Approve')]"))).length,
    ).toBe(0);
    await d.signIn("controller");
    await d.open(`/today?${october}`);
    await d.text("Winter lay-up, provision");
    await d.open(`${journal}?${october}`);
    await d.see("//aside[@aria-label='Effect']//tr[contains(., 'Net assets')]");
    await (await d.button("Return")).click();
    await (
      await d.see("//input[@aria-label='Reason']")
    ).sendKeys("half of it is for 2027", Key.ENTER);
    await d.text("Returned to its preparer");
    await d.signIn("accountant");
    await d.open(`${journal}?${october}`);
    await cell("0:debit");
    await d.press("55000", Key.ENTER);
    await cell("1:credit");
    await d.press("55000", Key.ENTER);
    await d.kept();
    await (await d.button("Send for approval")).click();
    await d.text("half of it is for 2027");
    await d.signIn("controller");
    await d.open(`${journal}?${october}`);
    await (await d.button("Approve and post")).click();
    await posted();
    await d.text("Linnea Dane");
  });
});
