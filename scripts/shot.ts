// npm run shot -- PATH FILE [--user U] [--size 1280x800] [--port N] [--theme dark]: a picture of a
// screen of the running demo.
import { writeFileSync } from "node:fs";
import { openBrowser, setSize, signInAs } from "../e2e/browser";
import { DEMO_PASSWORD } from "../src/demo/people";

const args = process.argv.slice(2);
const named = (name: string, otherwise: string): string =>
  args.includes(`--${name}`) ? (args[args.indexOf(`--${name}`) + 1] ?? otherwise) : otherwise;
const [where, file] = args;
if (!where || !file) {
  console.error("npm run shot -- PATH FILE [--user U] [--size 1280x800] [--port N]");
  process.exit(2);
}
const [width = 1280, height = 800] = named("size", "1280x800").split("x").map(Number);
const base = `http://127.0.0.1:${named("port", "3000")}`;
const browser = await openBrowser(width, height);
try {
  await signInAs(browser, base, named("user", "controller"), DEMO_PASSWORD);
  if (named("theme", "light") === "dark")
    await browser.manage().addCookie({ name: "theme", value: "dark" });
  await browser.get(base + where);
  await setSize(browser, width, height);
  await browser.sleep(900);
  writeFileSync(file, Buffer.from(await browser.takeScreenshot(), "base64"));
} finally {
  await browser.quit();
}
