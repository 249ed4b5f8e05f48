import { writeFileSync } from "node:fs";
import { Key } from "selenium-webdriver";
import { openBrowser, setSize, signInAs } from "../e2e/browser";
import { drive } from "../e2e/drive";
import { DEMO_PASSWORD } from "../src/demo/people";
const base = "http://127.0.0.1:3111";
const b = await openBrowser(1280, 800);
const d = drive(b, base);
let n = 0;
const shot = async (name: string) => {
  await b.sleep(900);
  writeFileSync(`/tmp/w/${name}.png`, Buffer.from(await b.takeScreenshot(), "base64"));
  n++;
};
try {
  await signInAs(b, base, "controller", DEMO_PASSWORD);
  await setSize(b, 1280, 800);
  await d.open("/payables/suppliers/S-103?company=HSF&period=2026-10");
  await (await d.button("Bank accounts")).click();
  await d.field("bank-number", "12345678");
  await d.field("bank-country", "US");
  await d.field("bank-routing", "021000022");
  await (await d.see("//input[@id='bank-bic']")).click();
  await shot("bank-form");
  await d.open("/setup/banks?company=KIT");
  await (await d.see("//tr[contains(., 'KIT-MAIN')]")).click();
  await b.switchTo().activeElement().sendKeys(Key.ENTER);
  await shot("banks");
  await d.open("/setup/rates");
  await shot("rates");
  await d.open("/ledger/load?company=HSF&period=2026-10");
  await shot("load-empty");
  await d.open("/payables/recurring/new?company=HSF&period=2026-10");
  await shot("recurring");
  await d.open("/payables/payments/new?company=HSF&period=2026-11");
  await shot("pay-new");
} finally {
  await b.quit();
}
