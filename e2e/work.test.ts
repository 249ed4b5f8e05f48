import { By, Key, until } from "selenium-webdriver";
import type { Driver } from "selenium-webdriver/chrome.js";
import { Secret, TOTP } from "otpauth";
import { describe, expect, inject, test } from "vitest";
import { PASSWORD } from "../tests/world";
import { openBrowser, WAIT } from "./browser";
import { browserFor } from "./browserFor";
import { DEMO_PASSWORD } from "../src/demo/people";
import { drive } from "./drive";

const base = inject("demo");
const october = "company=HSF&book=IFRS&period=2026-10";
const { browser, d } = await browserFor(base);

describe("finding one's way by keyboard", () => {
  test("Ctrl K finds a page, an account, a journal by its number and by its amount; the strip moves by arrows; the keys of a page are shown", async () => {
    await d.signIn("controller");
    await d.open(`/ledger/trial-balance?${october}`);
    const find = async (words: string, result: string) => {
      await d.chord([Key.CONTROL], "k");
      await d.see("//input[@placeholder[contains(., 'An account') or contains(., 'an account')]]");
      await d.press(words);
      await d.see(`//*[@cmdk-item and contains(., '${result}')]`);
      await browser.sleep(300);
      await d.press(Key.ENTER);
    };
    // The pages of the area are in sight, and each is two keys away.
    const marked = (name: string) =>
      d.see(
        `//nav[@aria-label='Pages of the area']//a[@aria-current='page'][starts-with(normalize-space(.), '${name}')]`,
      );
    await marked("Trial balance");
    await d.press("g", "2");
    await browser.wait(until.urlContains("/ledger/journals?"), WAIT);
    await marked("Journals");
    await find("tolerances", "Matching tolerances");
    await browser.wait(until.urlContains("/payables/tolerances"), WAIT);
    await marked("Rules");
    await d.see(
      "//nav[@aria-label='Pages of the subject']//a[@aria-current='page'][.='Tolerances']",
    );
    await find("balance sheet", "Balance sheet");
    await browser.wait(until.urlContains("/statements/balance-sheet"), WAIT);
    await find("6310", "Quay and pier maintenance");
    await browser.wait(until.urlContains("/ledger/accounts/6310"), WAIT);
    await find("HSF-26-00700", "HSF-26-00700");
    await browser.wait(until.urlMatches(/\/ledger\/journals\/\d+/), WAIT);
    const total = (
      await (await d.see("//*[normalize-space(.)='Debits']/following-sibling::*[1]")).getText()
    ).trim();
    await find(total, "HSF-26-00700");
    await d.open(`/ledger/trial-balance?${october}`);
    const strip = await d.see("//*[@role='listbox' and @aria-label='Period']/*[@tabindex='0']");
    await strip.sendKeys(Key.ARROW_LEFT);
    await browser.wait(until.urlContains("period=2026-09"), WAIT);
    await d.see("//*[@role='option' and @aria-selected='true' and contains(., 'Sep')]");
    await browser.wait(
      async () =>
        (
          await browser.executeScript<string>("return document.activeElement?.textContent ?? ''")
        ).includes("Sep"),
      WAIT,
      "the focus on September",
    );
    await d.chord([Key.SHIFT], Key.ARROW_RIGHT);
    await browser.wait(
      async () =>
        /from=2026-09/.test(await browser.getCurrentUrl()) &&
        /period=2026-10/.test(await browser.getCurrentUrl()),
      WAIT,
      "a range of two periods",
    );
    await d.text("Sep to Oct 2026");
    await browser.executeScript("document.activeElement.blur()");
    await d.press("?");
    await d.see("//*[@role='dialog']//*[contains(., 'Take the figure apart')]");
    await d.press(Key.ESCAPE);
  });
});

describe("a person's own way of writing", () => {
  const choose = async (figures: string, days: string) => {
    await d.open("/account");
    for (const [id, value] of [
      ["writing-figures", figures],
      ["writing-days", days],
    ])
      await (await d.see(`//*[@id='${id}']/option[@value='${value}']`)).click();
    await (await d.see("//form[.//*[@id='writing-days']]//button[@type='submit']")).click();
    await browser.wait(
      async () =>
        (await browser.executeScript("return document.documentElement.dataset.writing")) ===
        `${figures}.${days}`,
      WAIT,
    );
  };
  const shown = async (id: string) => (await d.see(`//*[@id='${id}']`)).getAttribute("value");
  const line = (n: number, side: string) => d.see(`//*[@data-cell='${n}:${side}']`);

  test("what is typed as 1.234,5 is that amount for everybody, and each reads it their way", async () => {
    await d.signIn("accountant");
    await choose("comma", "points");
    await d.open(`/ledger/journals/new?${october}`);
    await d.field("head-description", "Fenders, our own way");
    await d.cell("0:debit");
    await d.press("1.234,5", Key.TAB);
    await d.cell("1:credit");
    await d.press("1.234", Key.TAB);
    await d.kept();
    await d.text("1.234,50");
    await d.text("1.234,00");
    await d.text("0,50");
    const address = (await browser.getCurrentUrl()).replace(base, "");
    // A message of the server's says it in the same way.
    await d.chord([Key.CONTROL], Key.ENTER);
    await d.text("Debits 1.234,50 and credits 1.234,00 differ by 0,50.");
    expect(await shown("head-journal-date")).toBe("31.10.2026");
    // Their own way is kept with them: it is there after signing in anew.
    await d.signIn("accountant");
    await d.open(address);
    await browser.wait(async () => (await (await line(0, "debit")).getText()) === "1.234,50", WAIT);
    await d.signIn("controller");
    await d.open(address);
    await browser.wait(async () => (await (await line(0, "debit")).getText()) === "1,234.50", WAIT);
    expect(await shown("head-journal-date")).toBe("31 Oct 2026");
    await d.signIn("accountant");
    await choose("point", "words");
    await d.open(address);
    await (await d.see("//button[@aria-label='Delete this draft']")).click();
    await browser.wait(until.urlMatches(/\/ledger\/journals\?/), WAIT);
  });
});

describe("writing", () => {
  test("what is typed into a new journal before the page's script runs is not lost", async () => {
    await d.signIn("accountant");
    const script = (await (browser as Driver).sendAndGetDevToolsCommand(
      "Page.addScriptToEvaluateOnNewDocument",
      {
        source: `new MutationObserver((_l, o) => { const i = document.querySelector("#head-description"); if (i) { o.disconnect(); i.value = "Typed early"; } }).observe(document, { childList: true, subtree: true });`,
      },
    )) as unknown as { identifier: string };
    await d.open(`/ledger/journals/new?${october}`);
    await d.see("//h1[contains(., 'Typed early')]");
    expect(await (await d.see("//*[@id='head-description']")).getAttribute("value")).toBe(
      "Typed early",
    );
    await (browser as Driver).sendDevToolsCommand("Page.removeScriptToEvaluateOnNewDocument", {
      identifier: script.identifier,
    });
    // It is kept like anything typed later, and can go again.
    await browser.wait(async () => /journals\/\d+/.test(await browser.getCurrentUrl()), WAIT);
    await (await d.see("//button[@aria-label='Delete this draft']")).click();
    await browser.wait(until.urlMatches(/\/ledger\/journals\?/), WAIT);
  });

  test("two people on one draft: the one who saves later is told, keeps the text, and decides", async () => {
    const other = await openBrowser();
    try {
      const e = drive(other, base);
      await d.signIn("accountant");
      await d.open(`/ledger/journals/new?${october}`);
      await d.field("head-description", "Shared draft");
      await browser.wait(async () => /journals\/\d+/.test(await browser.getCurrentUrl()), WAIT);
      const address = (await browser.getCurrentUrl()).replace(base, "");
      await e.signIn("controller");
      await e.open(address);
      await (await e.see("//*[@id='head-reference']")).sendKeys("SECOND");
      await e.kept();
      await (await d.see("//*[@id='head-reference']")).sendKeys("FIRST");
      await d.see("//*[@role='alert' and contains(., 'Linnea Dane changed this')]");
      expect(await (await d.see("//*[@id='head-reference']")).getAttribute("value")).toBe("FIRST");
      await (await d.button("Save mine over it")).click();
      await browser.wait(
        async () =>
          (await browser.findElements(By.css("[role=alert]"))).length === 0 ||
          !(await d.bodyText()).includes("changed this"),
        WAIT,
      );
      await other.navigate().refresh();
      await other.wait(
        async () =>
          (await (await e.see("//*[@id='head-reference']")).getAttribute("value")) === "FIRST",
        WAIT,
      );
      await (await d.see("//button[@aria-label='Delete this draft']")).click();
      await browser.wait(until.urlMatches(/\/ledger\/journals\?/), WAIT);
    } finally {
      await other.quit();
    }
  });

  test("a session that ends loses nothing: the password is asked for in place, what was typed is saved; a page asked for without one comes back after signing in", async () => {
    await d.signIn("accountant");
    await d.open(`/ledger/journals/new?${october}`);
    await d.field("head-description", "Before the session ended");
    await d.cell("0:account");
    await d.press("6310", Key.ENTER);
    await d.kept();
    await browser.manage().deleteAllCookies();
    await d.cell("0:debit");
    await d.press("88", Key.ENTER);
    await d.text("Your session has ended");
    await (await d.see("//input[@id='again-password']")).sendKeys(DEMO_PASSWORD, Key.ENTER);
    await d.kept();
    await browser.navigate().refresh();
    await d.see("//*[@data-cell='0:debit' and contains(., '88.00')]");
    // The cell that is being written when the page is left comes back too.
    await d.cell("1:account");
    await d.press("24");
    await browser.navigate().refresh();
    await d.see("//*[@data-cell='1:account' and contains(., '24')]");
    const place = new URL(await browser.getCurrentUrl()).pathname;
    await browser.manage().deleteAllCookies();
    await browser.navigate().refresh();
    await browser.wait(until.urlContains("/sign-in"), WAIT);
    await (await d.see("//input[@id='login']")).sendKeys("accountant");
    await (await d.see("//input[@id='password']")).sendKeys(DEMO_PASSWORD, Key.ENTER);
    await browser.wait(until.urlContains(place), WAIT);
    await d.see("//*[@data-cell='0:debit' and contains(., '88.00')]");
  });

  test("F8 works wherever one is; after a refused check the focus is at the first problem", async () => {
    await d.signIn("accountant");
    await d.open(`/ledger/journals/new?${october}`);
    await d.field("head-description", "Two faults");
    await d.cell("0:account");
    await d.press("nowhere", Key.ENTER);
    await d.cell("0:debit");
    await d.press("5", Key.ENTER);
    await d.cell("1:account");
    await d.press("2410", Key.ENTER);
    await d.cell("2:account");
    await d.press("neither", Key.ENTER);
    await d.cell("2:credit");
    await d.press("5", Key.ENTER);
    await d.kept();
    await d.chord([Key.CONTROL], Key.ENTER);
    await d.see("//*[@data-cell='0:account' and @aria-selected='true']");
    const focus = () => browser.executeScript<string>("return document.activeElement.tagName");
    await browser.wait(async () => (await focus()) === "INPUT", WAIT, "the focus in the cell");
    // The line in between goes; the next problem is where its line went.
    await d.cell("1:account");
    await d.chord([Key.CONTROL], Key.DELETE);
    await browser.executeScript("document.activeElement.blur()");
    await d.press(Key.F8);
    await d.see("//*[@data-cell='1:account' and @aria-selected='true' and contains(., 'neither')]");
  });

  test("a double click on Post posts once", async () => {
    await d.signIn("accountant");
    await d.open(`/ledger/journals/new?${october}`);
    await d.field("head-description", "Twice clicked");
    await (await d.see("//*[@data-cell='0:account']")).click();
    await d.press("6310", Key.TAB, "harb", Key.TAB, Key.TAB, Key.TAB, "10", Key.TAB, Key.TAB);
    await d.press("2410", Key.TAB, Key.TAB, Key.TAB, Key.TAB, Key.TAB, "10", Key.TAB);
    await d.kept();
    await browser
      .actions()
      .doubleClick(await d.button("Post"))
      .perform();
    await d.see("//h1[starts-with(., 'HSF-26-')]");
    const list = await d.fetch(`/find?company=HSF&text=${encodeURIComponent("Twice clicked")}`);
    expect(
      (JSON.parse(list.text) as { label: string }[]).filter((f) => /HSF-26-\d+/.test(f.label)),
    ).toHaveLength(1);
  });
});

describe("set-up", () => {
  test("a person is added with a role for one company, signs in, sees that company's ledger, and is refused the rest", async () => {
    await d.signIn("admin");
    await d.open(`/setup/people?${october}`);
    await (await d.button("Add a person")).click();
    await d.field("record-name", "Wim Ostade");
    await d.field("record-login", "wim");
    await d.field("record-password", "short");
    await (await d.see("//label[normalize-space(.)='accountant']//input")).click();
    await (await d.see("//*[@id='record-company']/option[@value='MBY']")).click();
    await (await d.button("Save")).click();
    await d.see("//*[@id='record-password-problem']");
    expect(await (await d.see("//*[@id='record-name']")).getAttribute("value")).toBe("Wim Ostade");
    await d.field("record-password", "herring in october");
    await (await d.button("Save")).click();
    await d.see("//*[@role='row' or self::tr][contains(., 'Wim Ostade')]");
    await d.signIn("wim", "herring in october");
    await d.open("/ledger/trial-balance?company=MBY&book=IFRS&period=2026-10");
    await d.see("//h1[contains(., 'Trial balance')]");
    await d.text("Merrow Boatyard · Oct 2026");
    await d.open("/setup/people");
    await d.text("You may not");
    expect(
      (await d.fetch("/export/trial-balance?company=HSF&book=IFRS&period=2026-10&format=csv"))
        .status,
    ).toBe(403);
  });

  test("a form says what is wrong at its field before anybody is asked, keeps what was typed, asks before it is left, and saves by Enter", async () => {
    const focused = () =>
      browser.executeScript<string>(
        "return document.activeElement.id || document.activeElement.textContent",
      );
    await d.signIn("payables");
    await d.open(`/payables/suppliers?${october}`);
    await (await d.button("Add a supplier")).sendKeys(Key.ENTER);
    await browser.wait(async () => (await focused()) === "record-code", WAIT);
    await d.press("S-901", Key.TAB, Key.TAB);
    await d.text("A name is needed");
    await d.press(Key.ESCAPE);
    await d.text("Your changes are not saved.");
    expect(await focused()).toBe("Keep editing");
    await d.press(Key.ENTER);
    await d.field("record-name", "Quill Sailmakers");
    expect(await browser.findElements(By.id("record-name-problem"))).toEqual([]);
    await d.field("record-country", "IE");
    await (await d.see("//*[@id='record-currency']")).click();
    await d.press("ISK", Key.ENTER);
    // A link within the application asks as well; what was typed is still there.
    await (await d.see("//a[normalize-space(.)='Terms']")).click();
    await d.text("Your changes are not saved.");
    await (await d.button("Keep editing")).click();
    expect(await (await d.see("//*[@id='record-name']")).getAttribute("value")).toBe(
      "Quill Sailmakers",
    );
    // So does another record of the list.
    await (await d.see("//tr[contains(., 'S-103')]//td[1]")).click();
    await d.text("Your changes are not saved.");
    await (await d.button("Keep editing")).click();
    await (await d.see("//*[@id='record-name']")).sendKeys(Key.ENTER);
    await d.see("//tr[contains(., 'S-901')][contains(., 'Quill Sailmakers')]");
  });

  test("a second factor is set up; the password alone opens nothing then, a recovery code does, once", async () => {
    await d.signIn("wim", "herring in october");
    await d.open("/account");
    await (await d.button("Set up a second factor")).click();
    const secret = await (await d.see("//section[@aria-label='Second factor']//code")).getText();
    await d.field("code", new TOTP({ secret: Secret.fromBase32(secret) }).generate());
    await (await d.button("Confirm the code")).click();
    const recovery = await (await d.see("//ul[contains(@class,'font-mono')]/li[1]")).getText();
    const enter = async (code: string) => {
      await browser.manage().deleteAllCookies();
      await d.open("/sign-in");
      await d.field("login", "wim");
      await d.field("password", "herring in october");
      await (await d.button("Sign in")).click();
      await d.text("Give the code that your authenticator shows now.");
      await d.field("code", code);
      await (await d.button("Sign in")).click();
    };
    await enter(recovery);
    await browser.wait(until.urlContains("/today"), WAIT);
    await enter(recovery);
    await d.text("That code is not good.");
  });

  test("demanded of a role, a second factor is set up before anything else is seen", async () => {
    const demand = async () => {
      await d.signIn("admin");
      await d.open("/setup/people");
      await (await d.button("Change")).click();
      await (await d.see("//label[normalize-space(.)='auditor']//input")).click();
      await (await d.button("Save demand")).click();
    };
    await demand();
    await d.text("is demanded of auditor");
    await browser.manage().deleteAllCookies();
    await d.open("/sign-in");
    await d.field("login", "auditor");
    await d.field("password", DEMO_PASSWORD);
    await (await d.button("Sign in")).click();
    await d.text("Your role demands a second factor.");
    await d.open("/ledger/journals");
    await browser.wait(until.urlContains("/account"), WAIT);
    await demand();
    await d.text("is demanded of nobody");
  });

  test("what is sent arrives whole, however large it is", async () => {
    await d.signIn("accountant");
    await d.open("/today");
    const answered = await browser.executeAsyncScript<{ status: number; text: string }>(
      `const done = arguments[arguments.length - 1];
       const body = JSON.stringify({ mode: "check", source: "x".repeat(12e6), journals: [] });
       fetch("/drafts?work=load", { method: "POST", body }).then(async (r) =>
         done({ status: r.status, text: await r.text() }));`,
    );
    expect([answered.status, answered.text]).toEqual([200, expect.stringContaining("INVALID")]);
  });

  test("periods open in order: a later one is refused with the reason, both together go", async () => {
    await d.signIn("controller");
    await d.open("/setup/periods?company=KIT&book=LOCAL&period=2026-10");
    await (await d.see("//input[@aria-label='Choose 2026-13']")).click();
    await (await d.button("Open")).click();
    await d.text("is not opened yet. Open it before");
    await (await d.see("//input[@aria-label='Choose 2026-12']")).click();
    await (await d.button("Open")).click();
    await d.text("2 switched");
    await d.see("//tr[contains(., '2026-12')]//*[normalize-space(.)='Open']");
    await (await d.see("//input[@aria-label='Choose 2026-12']")).click();
    await (await d.see("//input[@aria-label='Choose 2026-13']")).click();
    await (await d.button("Back to not yet")).click();
    await d.see("//tr[contains(., '2026-12')]//*[contains(., 'ot yet')]");
  });

  test("a line of an outline is renamed as a new version; the statement shows it, and as known before it does not", async () => {
    await d.signIn("controller");
    await d.open(`/setup/outlines?${october}&outline=income-statement`);
    // What people do in the demo is done in the evening of its day.
    const before = "2026-11-05T18:00";
    await (await d.text("Quay and pier maintenance")).click();
    await d.field("record-ranges", "6300 to 6399");
    await (await d.button("Save")).click();
    await d.see("//*[@id='record-ranges-problem']");
    await d.field("record-ranges", "6300-6399");
    await d.field("record-label", "Quays, piers and fenders");
    await (await d.button("Save")).click();
    await d.text("version 2");
    // A draft: the statement is as it was until the new version is used.
    await d.open(`/statements/income-statement?${october}`);
    await d.text("Quay and pier maintenance");
    await d.open(`/setup/outlines?${october}&outline=income-statement`);
    await (await d.button("Use it")).click();
    await d.text("Statements are made by it from now on");
    await d.open(`/statements/income-statement?${october}`);
    await d.text("Quays, piers and fenders");
    await d.open(`/statements/income-statement?${october}&asKnown=${before}`);
    await d.text("Quay and pier maintenance");
  });
});

describe("taking out", () => {
  test("reports leave as CSV, XLSX and PDF with the figures that are seen", async () => {
    await d.signIn("controller");
    await d.open(`/statements/income-statement?${october}&scale=1`);
    const revenue = (await d.figure("s!income-statement!revenue!this!standard")).replaceAll(
      ",",
      "",
    );
    const csv = await d.fetch(
      `/export/statements/income-statement?${october}&format=csv&layout=standard&scale=1`,
    );
    expect([csv.status, csv.type.split(";")[0], csv.disposition.startsWith("attachment")]).toEqual([
      200,
      "text/csv",
      true,
    ]);
    expect(csv.text.split("\n").find((l) => l.startsWith("Revenue"))).toContain(revenue);
    const balance = await d.fetch(`/export/trial-balance?${october}&format=xlsx`);
    expect([balance.status, balance.text.slice(0, 2)]).toEqual([200, "PK"]);
    const pdf = await d.fetch(
      `/export/statements/balance-sheet?${october}&format=pdf&layout=standard&scale=1000`,
    );
    expect([pdf.status, pdf.text.slice(0, 5), pdf.bytes > 5000]).toEqual([200, "%PDF-", true]);
  });
});

describe("two processes on one PostgreSQL", () => {
  test("whoever works on one sees at once what was done on the other; sessions hold on both; numbers have no gap", async () => {
    const [one, two] = inject("pair");
    const ask = async (address: string, path: string, token: string, body?: unknown) => {
      const response = await fetch(`${address}/api/v1${path}`, {
        ...(body ? { method: "POST", body: JSON.stringify(body) } : {}),
        headers: { "content-type": "application/json", authorization: `Bearer ${token}` },
      });
      return { status: response.status, value: (await response.json()) as Record<string, unknown> };
    };
    const token = (await ask(one, "/tokens", "", { user: "controller", password: PASSWORD })).value
      .token as string;
    const journal = (n: number) => ({
      company: "ALP",
      type: "general",
      date: "2026-10-05",
      description: `Pair ${n}`,
      post: true,
      lines: [
        { account: "6310", dimensions: { costCentre: "HARB" }, debit: "1.00" },
        { account: "2410", credit: "1.00" },
      ],
    });
    const posted = await Promise.all(
      Array.from({ length: 40 }, (_, n) => ask([one, two][n % 2]!, "/journals", token, journal(n))),
    );
    expect(posted.map((p) => p.status)).toEqual(posted.map(() => 201));
    expect(posted.map((p) => p.value.number as string).sort()).toEqual(
      Array.from({ length: 40 }, (_, i) => `ALP-26-${String(i + 1).padStart(5, "0")}`),
    );
    for (const address of [one, two]) {
      const { value } = await ask(address, "/trial-balance?company=ALP&period=2026-10", token);
      expect(
        (value.rows as { account: string; debit: string }[]).find((r) => r.account === "6310")!
          .debit,
      ).toBe("40.00");
    }
    // A value added on one is known on the other before its next posting.
    await browser.manage().deleteAllCookies();
    const p = drive(browser, one);
    await p.signIn("root", PASSWORD);
    await p.open("/setup/dimensions?company=ALP&dimension=costCentre");
    await (await p.button("Add a value")).click();
    await p.field("record-code", "NEWC");
    await p.field("record-name", "New centre");
    await (await p.button("Save")).click();
    await p.see("//*[@role='row' or self::tr][contains(., 'NEWC')]");
    const other = await ask(two, "/journals", token, {
      ...journal(41),
      lines: [
        { account: "6310", dimensions: { costCentre: "NEWC" }, debit: "1.00" },
        { account: "2410", credit: "1.00" },
      ],
    });
    expect([other.status, other.value.number]).toEqual([201, "ALP-26-00041"]);
  });

  test("a year end is proposed and read on one, posted on the other, found in retained earnings, and reversed as a unit", async () => {
    const [one, two] = inject("pair");
    const p = drive(browser, one);
    await p.signIn("root", PASSWORD);
    await browser.executeAsyncScript(
      `const done = arguments[arguments.length - 1]; (async () => { const t = await (await fetch("/api/v1/tokens", { method: "POST", body: JSON.stringify({ user: "controller", password: "${PASSWORD}" }) })).json();
       await fetch("/api/v1/journals", { method: "POST", headers: { authorization: "Bearer " + t.token }, body: JSON.stringify({ company: "ALP", type: "general", date: "2025-06-30", description: "Cost of 2025", post: true, lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, debit: "750.00" }, { account: "2410", credit: "750.00" }] }) }); done(); })();`,
    );
    await p.open("/close/year-end?company=ALP&book=IFRS&period=2025-12");
    await (await p.see("//*[@id='year-end-year']/option[.='2025']")).click();
    await (await p.button("Propose")).click();
    await browser.wait(until.urlContains("/runs/"), WAIT);
    await p.see("//*[@role='row' or self::tr][contains(., '6310')]");
    const run = new URL(await browser.getCurrentUrl()).pathname;
    const q = drive(browser, two);
    await q.signIn("root", PASSWORD);
    await q.open(`${run}?company=ALP&book=IFRS&period=2025-12`);
    await (await q.button("Post 1 journal")).click();
    await q.text("Posted 1 journal");
    await q.open("/ledger/trial-balance?company=ALP&book=IFRS&period=2026-01");
    expect(await q.figure("b!account!3210!opening")).toBe("750.00");
    await q.open(`${run}?company=ALP&book=IFRS&period=2025-12`);
    await (await q.button("Reverse the run")).click();
    await (
      await q.see("//input[@aria-label='Reason']")
    ).sendKeys("one invoice more to come", Key.ENTER);
    await q.text("The run is reversed");
    await q.open("/ledger/trial-balance?company=ALP&book=IFRS&period=2026-01&zeros=1");
    expect(await q.figure("b!account!3210!opening")).toBe("0.00");
    await q.text("Result of earlier years, year end not posted");
  });
});
