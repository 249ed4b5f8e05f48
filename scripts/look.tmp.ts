import { writeFileSync } from "node:fs";
import { By, Key } from "selenium-webdriver";
import { openBrowser, setSize, signInAs } from "../e2e/browser";
import { DEMO_PASSWORD } from "../src/demo/people";
const [user, where, file, ...steps] = process.argv.slice(2);
const base = "http://127.0.0.1:3222";
const browser = await openBrowser(1280, 800);
try {
  await signInAs(browser, base, user!, DEMO_PASSWORD);
  await browser.get(base + where);
  await setSize(browser, 1280, 800);
  await browser.sleep(1200);
  for (const s of steps) {
    const i = s.indexOf(":");
    const [what, arg] = [s.slice(0, i), s.slice(i + 1)];
    if (what === "click") await browser.findElement(By.xpath(arg)).click();
    if (what === "press") await browser.actions().sendKeys(arg === "enter" ? Key.ENTER : arg).perform();
    if (what === "chord") await browser.actions().keyDown(Key.CONTROL).keyDown(Key.SHIFT).sendKeys(Key.ENTER).keyUp(Key.SHIFT).keyUp(Key.CONTROL).perform();
    if (what === "field") { const [id, ...t] = arg.split("="); const e = await browser.findElement(By.id(id!)); await e.clear(); await e.sendKeys(t.join("=")); }
    await browser.sleep(900);
  }
  writeFileSync(file!, Buffer.from(await browser.takeScreenshot(), "base64"));
} finally { await browser.quit(); }
