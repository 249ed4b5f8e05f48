import type { WebDriver } from "selenium-webdriver";
import { afterAll } from "vitest";
import { openBrowser } from "./browser";
import { drive } from "./drive";

/** One browser for a file of tests, and what drives it. */
export async function browserFor(
  base: string,
): Promise<{ browser: WebDriver; d: ReturnType<typeof drive> }> {
  const browser = await openBrowser();
  afterAll(() => browser.quit());
  return { browser, d: drive(browser, base) };
}
