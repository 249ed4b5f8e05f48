import { describe, expect, inject, test } from "vitest";
import { browserFor } from "./browserFor";

const base = inject("demo");
const { d } = await browserFor(base);
const november = "company=HSF&book=IFRS&period=2026-11";
const tick = (text: string) =>
  d.click(`//tr[td[normalize-space(.)='${text}']]//input[@type='checkbox']`);
const choose = async (id: string, text: string) => {
  const field = await d.see(`//*[@id='${id}']`);
  if ((await field.getTagName()) === "select")
    return d.click(`//select[@id='${id}']/option[contains(., '${text}')]`);
  await d.field(id, text);
};

describe("computers of one invoice", () => {
  test("three lines become one asset, which shows each of them; the clearing account is what is left; taken back they wait again", async () => {
    await d.signIn("assets");
    await d.open(`/assets/intake?${november}`);
    expect(await (await d.text("6,720.00")).getText()).toContain("6,720.00");
    for (const what of ["Computer, finance", "Screen, finance", "Docking station, finance"])
      await tick(what);
    await (await d.button("Merge into “Computer, finance”")).click();
    await d.text("goes with Computer, finance");
    // What it still needs is said at the line, and a day before it was bought is no answer.
    await d.open(`/assets/intake?${november}`);
    await tick("Computer, finance");
    await choose("line-class", "FIXTURES");
    await d.field("line-place", "Ostry office");
    await d.field("line-inService", "1 Nov 2026");
    await (await d.button("Keep")).click();
    await d.text("needs in service after it was bought on 3 Nov 2026");
    await d.field("line-inService", "4 Nov 2026");
    await (await d.button("Keep")).click();
    await (await d.button("Preview 3 complete lines")).click();
    await d.text("1,680.00");
    await (await d.button("Post")).click();
    await d.see(
      "//*[contains(@class, 'status') or @role='status' or self::span][contains(., 'Posted')]",
    );
    await d.open(`/assets/register?${november}&filters=description%3DComputer%2C%20finance`);
    await d.open(`/assets/intake?${november}`);
    await d.text("5,040.00");
  });
});

describe("a month's depreciation", () => {
  test("is previewed by asset, opened to its calculation, posted, and stands in the movements and on the asset", async () => {
    await d.signIn("assets");
    await d.open("/assets?company=KIT&book=IFRS&period=2026-10");
    await d.text("No depreciation run has been posted yet.");
    await (await d.button("Preview depreciation to 31 Oct 2026")).click();
    await d.text("Charged in all books");
    await d.click("(//td[starts-with(normalize-space(.), 'KIT-26-A')])[1]");
    await d.text("Should be charged by 31 Oct 2026");
    await (await d.button("Post")).click();
    await d.see("//*[contains(., 'Posted')]");
    await d.open("/assets?company=KIT&book=IFRS&period=2026-10");
    await d.text("Charged by runs up to 2026-10.");
    await d.open("/assets/register/KIT-26-A00002?company=KIT&book=IFRS&period=2026-10");
    await d.text("depreciation");
    await d.text("Carried at the end of each year");
  });
});
