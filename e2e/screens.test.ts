import { fromFiles } from "./fromFiles";
import axe, { type AxeResults, type RunOptions } from "axe-core";
import { By, until, type WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, describe, expect, inject, test } from "vitest";
import { DEMO_PASSWORD, DEMO_PEOPLE } from "../src/demo/people";
import { openBrowser, setSize, signInAs, WAIT } from "./browser";
import { screens } from "./screenList";

let browser: WebDriver;
const base = inject("demo");
const place = "company=HSF&book=IFRS&period=2026-10";
/** The main screens, with a trace open where there is one, and their empty and failing states. */
const SCREENS = [
  ...screens("HSF", {
    account: "6410",
    journal: "HSF-26-00700",
    run: "HSF-25-R0001",
    partner: "S-102",
    asset: "LAN-HULL",
  }).map((s) => s.where),
  `/ledger/trial-balance?${place}&trace=b!account!2140!closing`,
  `/ledger/trial-balance?${place}&asKnown=2026-11-02T08:00`,
  `/ledger/journals/HSF-26-00700?${place}&trace=j!5000`,
  `/statements/income-statement?${place}&trace=s!income-statement!fuel!this!standard`,
  `/close/verify?${place}`,
  `/account`,
  `/api/docs`,
  `/ledger/accounts/6210?${place}&chart=1`,
  `/ledger/accounts/2410?${place}&as=t`,
  `/ledger/accounts/9010?${place}`,
  `/ledger/accounts/nowhere?${place}`,
  `/ledger/journals/99999999?${place}`,
  `/ledger/journals?${place}&text=nothinglikethis`,
  `/payables?${place}&bucket=0`,
  `/setup/letters?${place}`,
];

beforeAll(async () => {
  browser = await openBrowser();
  await setSize(browser, 1280, 800);
  await signInAs(browser, base, "controller", DEMO_PASSWORD);
});
afterAll(async () => browser?.quit());

// What passes is not described: that takes longer than finding what does not.
const VIOLATIONS: RunOptions = { resultTypes: ["violations"] };
const WCAG: RunOptions = {
  ...VIOLATIONS,
  runOnly: { type: "tag", values: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"] },
};
const CONTRAST: RunOptions = {
  ...VIOLATIONS,
  preload: false,
  runOnly: { type: "rule", values: ["color-contrast"] },
};
/** Rows of a table, and parts of a long page, that are like those before them. */
const MORE_OF_THE_SAME = ["tbody tr:nth-child(n + 30)", "main > section:nth-of-type(n + 9)"];

/** What axe finds on the page as it stands, in the light theme and in the dark one. */
async function findings(): Promise<string[]> {
  // Handed over once for both: that takes as long as looking at a short page.
  await browser.executeScript(axe.source);
  const found = await browser.executeAsyncScript<AxeResults["violations"] | string>(
    `const [wcag, contrast, more, done] = arguments;
    (async () => {
      const exclude = more.map((selector) => [selector]);
      const light = await axe.run({ exclude }, wcag);
      // The dark theme has other colours and nothing else.
      document.documentElement.dataset.theme = "dark";
      const dark = await axe.run({ exclude }, contrast);
      return [...light.violations, ...dark.violations];
    })().then(done, (error) => done(String(error)));`,
    WCAG,
    CONTRAST,
    MORE_OF_THE_SAME,
  );
  if (typeof found === "string") throw new Error(found);
  return found.map(
    (v) =>
      `${v.id}: ${v.nodes
        .slice(0, 3)
        .map((n) => n.html.slice(0, 120))
        .join(" | ")}`,
  );
}

describe("screens", () => {
  test.each(SCREENS)(
    "%s is accessible (axe, WCAG 2.1 AA), fits its width, and has nothing to complain about in the console",
    async (path) => {
      await browser.get(base + path);
      await browser.wait(until.elementLocated(By.css("main h1")), WAIT);
      await browser.sleep(250);
      expect(await findings()).toEqual([]);
      expect(
        await browser.executeScript<number>(
          "return document.documentElement.scrollWidth - innerWidth",
        ),
      ).toBeLessThanOrEqual(0);
      const severe = (await browser.manage().logs().get("browser"))
        .filter((l) => l.level.name === "SEVERE")
        .map((l) => l.message)
        .filter((m) => !/favicon/.test(m));
      expect(severe).toEqual([]);
    },
  );

  test("every person of the demo sees a desk and only what they may", async () => {
    for (const { login } of DEMO_PEOPLE) {
      await browser.manage().deleteAllCookies();
      await signInAs(browser, base, login, DEMO_PASSWORD);
      const rail = await browser.findElement(By.css("nav[aria-label=Areas]")).getText();
      expect([login, rail.includes("Setup"), rail.includes("Ledger")]).toEqual([
        login,
        ["admin", "auditor", "controller"].includes(login),
        login !== "admin",
      ]);
    }
  });
});

describe("first use", () => {
  test("an empty installation asks for a company and an administrator, checks them, and begins", async () => {
    await browser.manage().deleteAllCookies();
    await browser.get(`${inject("empty")}/`);
    await browser.wait(until.urlContains("/welcome"), WAIT);
    const type = async (id: string, value: string) => {
      const field = await browser.findElement(By.id(id));
      await field.clear();
      await field.sendKeys(value);
    };
    for (const [id, value] of [
      ["name", "Kelp & Sons"],
      ["code", "KLP"],
      ["country", "IE"],
      ["person", "Ada Kelp"],
      ["login", "ada"],
      ["book", "Local GAAP"],
      ["password", "short"],
    ] as const)
      await type(id, value);
    await browser.findElement(By.css("#chart option[value=empty]")).click();
    await browser.findElement(By.css("button[type=submit]")).click();
    await browser.wait(until.elementLocated(By.id("password-problem")), WAIT);
    expect(await browser.findElement(By.id("name")).getAttribute("value")).toBe("Kelp & Sons");
    await type("password", "long strands of kelp");
    await browser.findElement(By.css("button[type=submit]")).click();
    await browser.wait(until.urlContains("/sign-in"), WAIT);
    await signInAs(browser, inject("empty"), "ada", "long strands of kelp");
    await browser.wait(
      until.elementLocated(By.xpath("//*[contains(., 'You have no drafts')]")),
      WAIT,
    );
    await browser.get(`${inject("empty")}/welcome`);
    await browser.wait(until.urlContains("/today"), WAIT);
    await fromFiles(browser, inject("empty"));
  });
});
