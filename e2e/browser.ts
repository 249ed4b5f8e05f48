import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { Builder, By, until, type WebDriver } from "selenium-webdriver";
import { Options, ServiceBuilder, type Driver } from "selenium-webdriver/chrome.js";

/** A slow machine is no fault: how long a page takes is what the bench measures. */
export const WAIT = 60_000;

/** A headless Chromium of Debian's, with a fresh profile, that reaches nothing but this machine. */
export async function openBrowser(width = 1280, height = 800): Promise<WebDriver> {
  const options = new Options();
  options.setChromeBinaryPath("/usr/bin/chromium");
  options.addArguments(
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--force-color-profile=srgb",
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
    `--user-data-dir=${mkdtempSync(path.join(tmpdir(), "yellow-anchor-browser-"))}`,
    `--window-size=${width},${height}`,
  );
  const browser = await new Builder()
    .forBrowser("chrome")
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder("/usr/bin/chromedriver"))
    .build();
  // Machines are shared: a look at a long page may take its time.
  await browser.manage().setTimeouts({ script: 90_000 });
  await setSize(browser, width, height);
  return browser;
}

/**
 * The size of the page itself, whatever the window around it takes: asked for until the page says
 * that it has it.
 */
export async function setSize(browser: WebDriver, width: number, height: number): Promise<void> {
  for (let attempt = 0; attempt < 10; attempt++) {
    await (browser as Driver).sendDevToolsCommand("Emulation.setDeviceMetricsOverride", {
      width,
      height,
      deviceScaleFactor: 1,
      mobile: false,
    });
    const size = await browser.executeScript<[number, number]>("return [innerWidth, innerHeight]");
    if (size[0] === width && size[1] === height) return;
    await browser.sleep(100);
  }
}

export async function signInAs(
  browser: WebDriver,
  base: string,
  login: string,
  password: string,
): Promise<void> {
  await browser.get(`${base}/sign-in`);
  await browser.findElement(By.id("login")).sendKeys(login);
  await browser.findElement(By.id("password")).sendKeys(password);
  await browser.findElement(By.css("button[type=submit]")).click();
  await browser.wait(until.urlContains("/today"), WAIT);
}
