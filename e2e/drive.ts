import { By, error, Key, until, type WebDriver, type WebElement } from "selenium-webdriver";
import { DEMO_PASSWORD } from "../src/demo/people";
import { setSize, signInAs, WAIT } from "./browser";

const quoted = (s: string) => (s.includes("'") ? `"${s}"` : `'${s}'`);

/** What has arrived with the page and is not put in its place yet: nobody sees it so far. */
const ARRIVING = "ancestor-or-self::div[@hidden][starts-with(@id, 'S:')]";

/** What holds the page's words as data, before they are drawn. */
const UNSEEN = "self::script or self::style or self::template";

/** A page that does not listen yet can't be clicked. What is typed into it is not lost. */
const listens = (browser: WebDriver) =>
  browser.wait(
    () => browser.executeScript<boolean>("return 'listens' in document.documentElement.dataset"),
    WAIT,
    "the page to listen",
  );

/**
 * An element that is clicked as people click: when it can be, not while it is being put in its
 * place or something lies over it.
 */
function patient(element: WebElement): WebElement {
  const click = element.click.bind(element);
  element.click = async () => {
    await listens(element.getDriver());
    for (const end = Date.now() + WAIT; ;)
      try {
        // What waits for an answer does nothing yet: a person waits too.
        if (!(await element.isEnabled()) && Date.now() <= end) {
          await new Promise((r) => setTimeout(r, 100));
          continue;
        }
        return await click();
      } catch (fault) {
        const isEarly =
          fault instanceof error.ElementNotInteractableError ||
          fault instanceof error.ElementClickInterceptedError;
        if (!isEarly || Date.now() > end) throw fault;
        // Where the totals of a list lie over it, a person scrolls.
        await element
          .getDriver()
          .executeScript("arguments[0].scrollIntoView({ block: 'center' })", element)
          .catch(() => null);
        await new Promise((r) => setTimeout(r, 100));
      }
  };
  return element;
}

/**
 * What tests do in a browser, in words: waits for what it looks for, and works through the keyboard
 * where keys are pressed.
 */
export function drive(browser: WebDriver, base: string) {
  const see = async (xpath: string): Promise<WebElement> =>
    patient(
      await browser.wait(
        until.elementLocated(By.xpath(`(${xpath})[not(${ARRIVING}) and not(${UNSEEN})]`)),
        WAIT,
        xpath,
      ),
    );
  return {
    see,
    /**
     * Clicks what is drawn anew while the page works, as a person would: if it was replaced between
     * looking and clicking, its successor.
     */
    click: async (xpath: string) => {
      for (let tries = 3; ; tries--)
        try {
          return await (await see(xpath)).click();
        } catch (fault) {
          if (tries === 0 || !(fault instanceof error.StaleElementReferenceError)) throw fault;
        }
    },
    open: async (path: string) => {
      await browser.get(base + path);
      await listens(browser);
      await setSize(browser, 1280, 800);
    },
    /** The innermost element that shows the words. */
    text: (words: string) =>
      see(
        `//*[contains(normalize-space(.), ${quoted(words)}) and not(*[contains(normalize-space(.), ${quoted(words)})])]`,
      ),
    button: (words: string) => see(`//button[starts-with(normalize-space(.), ${quoted(words)})]`),
    press: (...keys: string[]) =>
      browser
        .actions()
        .sendKeys(...keys)
        .perform(),
    chord: async (modifiers: string[], key: string) => {
      const actions = browser.actions();
      for (const m of modifiers) actions.keyDown(m);
      actions.sendKeys(key);
      for (const m of modifiers) actions.keyUp(m);
      await actions.perform();
    },
    /** Goes into a cell of a grid, by its row (from 0) and column. */
    cell: async (place: string) => (await see(`//*[@data-cell='${place}']`)).click(),
    /** Waits until the server has what stands in the journal. */
    kept: () => see("//*[@data-kept='yes']"),
    bodyText: () => browser.findElement(By.css("body")).getText(),
    figure: async (ref: string): Promise<string> =>
      (await see(`//*[@data-trace=${quoted(ref)}]`)).getText(),
    field: async (id: string, value: string) => {
      const element = await see(`//*[@id='${id}']`);
      await element.clear();
      // What the page holds itself comes back after a clearing from outside.
      if ((await element.getAttribute("value")) !== "")
        await element.sendKeys(Key.chord(Key.CONTROL, "a"), Key.DELETE);
      await element.sendKeys(value);
    },
    signIn: async (login: string, password = DEMO_PASSWORD) => {
      await browser.manage().deleteAllCookies();
      await signInAs(browser, base, login, password);
      await setSize(browser, 1280, 800);
    },
    /** Asks an address as the person who is signed in. */
    fetch: (path: string) =>
      browser.executeAsyncScript<{
        status: number;
        type: string;
        disposition: string;
        text: string;
        bytes: number;
      }>(
        `const done = arguments[arguments.length - 1]; fetch(${JSON.stringify(path)}).then(async (r) => { const b = await r.arrayBuffer(); done({ status: r.status, type: r.headers.get("content-type") || "", disposition: r.headers.get("content-disposition") || "", bytes: b.byteLength, text: new TextDecoder().decode(b.slice(0, 200000)) }); });`,
      ),
  };
}
