import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { By, Key, Origin } from "selenium-webdriver";
import { describe, expect, inject, test } from "vitest";
import { WAIT } from "./browser";
import { browserFor } from "./browserFor";

const base = inject("demo");
const november = "company=HSF&book=IFRS&period=2026-11";
const { browser, d } = await browserFor(base);

describe("lines of bank statements", () => {
  test("a line is decided by keyboard, taken back, coded; all that is decided is posted", async () => {
    await d.signIn("treasury");
    await d.open(`/banks/lines?${november}&status=unexplained`);
    await d.click("//tbody/tr[contains(., 'deposit cabin 12')]");
    await d.see("//*[contains(., 'No open item and no kind of movement fits')]");
    await d.press("c");
    await d.field("line-account", "1310");
    await (await d.button("Use this coding")).click();
    // What a list stands behind is not coded by hand.
    await d.see("//p[@id='line-account-problem'][contains(., '1310')]");
    // By a part of the name; what will be posted says what the tax is of.
    await d.field("line-account", "sound crossing");
    await d.see("//*[@role='option'][contains(., '4020')]");
    await d.press(Key.TAB);
    await d.field("line-costCentre", "A-SALES");
    await d.press(Key.TAB);
    await d.see("//section[contains(., 'What will be posted')][contains(., '4020')]");
    await d.field("line-text", "Deposit, cabin 12");
    await (await d.button("Use this coding")).click();
    await d.see("//*[contains(., 'Decided')]");

    await d.open(`/banks/lines?${november}&status=to+decide&text=first+half`);
    await d.click("//tbody/tr[contains(., 'first half')]");
    await d.see("//button[@role='radio'][contains(., 'in part')][contains(., 'pays a part')]");
    await d.press("a");
    await d.see("//*[contains(., 'Decided')]");
    await d.open(`/banks/lines?${november}&status=chosen`);
    await d.click("//tbody/tr[contains(., 'first half')]");
    await d.see("//h3[.='What will be posted']");
    await d.press("u");
    await d.see("//*[contains(., 'Decision taken back')]");

    // What is missing is written off within one's limit, and with a reason.
    await d.open(`/banks/lines?${november}&status=to+decide&text=Inv.`);
    await d.click("//tbody/tr[contains(., 'Inv. ')]");
    await d.see("//label[contains(., 'The difference of 5.00 goes to')]");
    await d.click("//select[@id='line-rest']/option[.='Differences written off']");
    await (await d.button("Accept")).click();
    await d.see("//*[@role='alert'][contains(., 'Say why')]");
    await d.field("line-rest-reason", "Too small to ask for");
    await (await d.button("Accept")).click();
    await d.see("//*[contains(., 'Decided')]");

    // Short by the bank's charge: the only kind with an account is proposed for the difference.
    await d.open(`/banks/lines?${november}&status=to+decide&text=Inv.`);
    await d.click("//tbody/tr[contains(., 'Inv. ')]");
    await d.see("//label[contains(., 'The difference of 5.00 goes to')]");
    await d.see("//section[contains(., 'What will be posted')][contains(., 'Bank charges')]");
    await (await d.button("Accept")).click();
    await d.see("//*[contains(., 'Decided')]");

    await d.open(`/banks/lines?${november}`);
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[contains(., 'Bank lines up to')]");
    await (await d.button("Post")).click();
    await d.see("//span[normalize-space(.)='Posted']");
    await d.open(`/banks/lines?${november}&status=posted&text=Account+fee`);
    await d.see("//tbody/tr[contains(., 'Account fee October')]");
    await d.open(`/banks?${november}&account=HSF-MAIN`);
    await d.see("//h2[contains(., 'from the ledger to the bank')]");
    expect(await d.bodyText()).toMatch(/Unexplained\s+0\.00/);
  });

  test("Find leads from a customer's invoice by its receipt to the line of the bank that paid it", async () => {
    await d.signIn("controller");
    await d.open(`/receivables/receipts?${november}`);
    // One that came of a line: what is debited next week is on none yet.
    const first = "(//tbody/tr[contains(., 'Posted')]/td[starts-with(., 'HSF-26-S')])[1]";
    const settles = await (await d.see(first)).getText();
    await d.chord([Key.CONTROL], "k");
    await d.see("//input[contains(@placeholder, 'n account')]");
    await d.press(settles);
    await d.see("//*[@cmdk-item][contains(., 'Receipt')]");
    await d.click("//*[@cmdk-item][contains(., 'Sales invoice')]");
    await d.see(`//h1[starts-with(., '${settles.slice(0, 15).trim()}')]`);
    await d.click("//a[normalize-space(.)='Chain']");
    await d.see("//*[contains(., 'HSF-26-C')]");
    await d.click("(//a[contains(., 'HSF-26-C')])[1]");
    await d.see("//h1[starts-with(., 'HSF-26-C')]");
    await d.click("//a[normalize-space(.)='Statement line']");
    await d.see("//aside//dd[contains(., 'HSF-MAIN')]");
    await d.see("//aside//a[starts-with(., 'HSF-26-')]");
    await d.signIn("treasury");
  });

  test("somebody is asked about a line by name, finds it on the desk and answers", async () => {
    await d.open(`/banks/lines?${november}&status=unexplained&text=cabin`);
    await d.click("//tbody/tr[contains(., 'deposit cabin 13')]");
    await d.see("//aside//h2[contains(., 'G. Thorne')] | //aside//*[contains(., 'G. Thorne')]");
    await d.press("r");
    await (await d.see("//textarea[@aria-label='A remark']")).sendKeys("Yours, @payables?");
    await (await d.button("Add remark")).click();
    await d.see("//tbody/tr[contains(., 'deposit cabin 13')][contains(., '1 remark')]");
    await d.signIn("payables");
    await d.open(`/today?${november}`);
    await d.click("//p[contains(., 'Yours, @payables?')]//a");
    await d.see("//h1[normalize-space(.)='Statement line']");
    await d.see("//dd[contains(., '840.00')] | //*[contains(., '840.00 EUR')]");
    await (await d.see("//textarea[@aria-label='A remark']")).sendKeys("No, a guest of cabin 13.");
    await (await d.button("Add remark")).click();
    await d.see("//section[@aria-label='Remarks'][contains(., 'No, a guest of cabin 13.')]");
    await d.signIn("treasury");
  });

  test("a rule is made of a line, tried, and put to use; what it decides is posted, reversed as a unit, and posted again", async () => {
    await d.open(`/banks/lines?${november}&status=unexplained&text=parking`);
    await d.click("//tbody/tr[contains(., 'parking meters Ostry')]");
    await d.click("//a[normalize-space(.)='Make a rule of this']");
    await d.see("//h1[normalize-space(.)='Rules for bank lines']");
    await d.field("record-name", "Parking meters");
    await d.field("record-text", "parking meters");
    await d.click("//select[@id='record-outcome']/option[contains(., 'oding')]");
    await d.field("record-account", "4020");
    await d.field("record-costCentre", "A-SALES");
    await (await d.button("Save")).click();
    await d.click("//tbody/tr[contains(., 'Parking meters')]");
    await d.see("//p[contains(., 'It fits 2 of')]");
    await d.click("//input[@id='record-inUse']");
    await (await d.button("Save")).click();
    await d.see("//tbody/tr[contains(., 'Parking meters')][contains(., 'Active')]");

    const decided = `/banks/lines?${november}&status=certain&text=parking`;
    await d.open(`/banks/lines?${november}&status=unexplained`);
    await (await d.button("Match again")).click();
    await d.see("//*[contains(., 'Matched again')]");
    for (const then of ["reverse", "leave"]) {
      await d.open(decided);
      await d.see("//tbody/tr[contains(., 'parking meters Kestle')]");
      await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
      await d.see("//h1[contains(., 'Bank lines up to')]");
      await (await d.button("Post")).click();
      await d.see("//span[normalize-space(.)='Posted']");
      if (then === "leave") break;
      await (await d.button("Reverse the run")).click();
      await (await d.see("//input[@aria-label='Reason']")).sendKeys("The wrong account", Key.ENTER);
      await d.see("//span[normalize-space(.)='Reversed']");
    }
    await d.open(`/banks/lines?${november}&status=posted&text=parking`);
    await d.see("//tbody/tr[contains(., 'parking meters Ostry')]");
  });

  test("a file that does not add up is refused with the figures; one that was there is named", async () => {
    const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-files-"));
    const file = path.join(folder, "wrong.sta");
    writeFileSync(
      file,
      ":20:A\n:25:IE12\n:28C:1\n:60F:C261105EUR1,00\n:61:261105C5,00NTRFX\n:62F:C261105EUR5,00\n-",
    );
    await d.open(`/banks/statements?${november}`);
    await d.see("//tbody/tr[contains(., '212')]");
    // The next day of the simulated bank comes in by one key, like any other file.
    await d.press("d");
    await d.see("//tbody/tr[contains(., '213')][contains(., 'hsf-main-2026-11-05')]");
    await d.press("d");
    await d.see("//*[@role='alert'][contains(., 'the bank')][contains(., '6 Nov 2026')]");
    await browser.findElement(By.css("input[type=file]")).sendKeys(file);
    await d.see("//*[@role='alert'][contains(., 'come to 6.00 EUR, but it closes with 5.00 EUR')]");
  });

  test("an account without files is ticked off to nil, reconciled, closed, frozen and reopened", async () => {
    await d.signIn("treasury");
    await d.open(`/banks/statements?${november}`);
    await d.click("//td[normalize-space()='HSF-SAVE']");
    await d.see("//h1[contains(., 'Statement 3 of HSF-SAVE')]");
    const difference = async () =>
      (await browser.findElement(By.css("[data-difference]"))).getText();
    expect(await difference()).toMatch(/^−/);
    const first = await d.see("//tbody/tr[1]");
    await first.click();
    // The first row, then all up to the last of five with Shift.
    await d.press(" ");
    for (let i = 0; i < 4; i++) await d.press(Key.ARROW_DOWN);
    await d.chord([Key.SHIFT], " ");
    await d.see("//*[@role='status'][contains(., '5 ticked of 5')]");
    expect(await difference()).toBe("12.00");
    await (await d.button("Add a bank line")).click();
    await d.field("paper-line-amount", "-12.00");
    await d.field("paper-line-text", "Account fee of the quarter");
    await (await d.button("Add line")).click();
    await d.see("//*[@role='status'][contains(., 'not posted')]");
    expect(await difference()).toBe("0.00");

    await d.click("//a[contains(., 'explain and post')]");
    // The page before has a row of that text as well.
    await d.see("//h1[normalize-space(.)='Statement lines']");
    await d.click("//tbody/tr[contains(., 'Account fee of the quarter')]");
    await d.see("//button[@role='radio'][contains(., 'a word for Bank charges')]");
    await d.press("a");
    await d.see("//*[contains(., 'Decided')]");
    await d.open(`/banks/lines?${november}`);
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[contains(., 'Bank lines up to')]");
    await (await d.button("Post")).click();
    await d.see("//span[normalize-space(.)='Posted']");

    // What the bank has written is attached before, and closed with it.
    await d.open("/banks?company=HSF&book=IFRS&period=2026-10&account=HSF-SAVE");
    await (await d.button("Papers for 31 Oct 2026")).click();
    await d.see("//*[contains(., 'Not closed yet')]");
    const letter = path.join(
      mkdtempSync(path.join(tmpdir(), "yellow-anchor-files-")),
      "letter.txt",
    );
    writeFileSync(letter, "We confirm your balance.");
    await d.see("//aside//*[contains(., 'up to 8 MB each')]");
    await browser.findElement(By.css("aside input[type=file]")).sendKeys(letter);
    await d.see("//aside//*[contains(., 'letter.txt')]");
    await d.open("/banks?company=HSF&book=IFRS&period=2026-10&account=HSF-SAVE");
    await (await d.button("Close reconciliation on 31 Oct 2026")).click();
    await d.see("//td[normalize-space()='Closed']");
    await d.click("//section//a[contains(., '31 Oct 2026')]");
    await d.see("//h1[contains(., 'Bank reconciliation HSF-SAVE')]");
    await d.see("//aside//*[contains(., 'letter.txt')]");
    const paper = await d.see("//a[normalize-space(.)='PDF']");
    const address = new URL((await paper.getAttribute("href")) ?? "", base);
    const got = await d.fetch(address.pathname + address.search);
    expect(got).toMatchObject({ status: 200, type: "application/pdf" });
    await d.open(`/banks/statements?${november}`);
    await d.click("//td[normalize-space()='HSF-SAVE']");
    await d.see("//*[@role='status'][contains(., 'nothing of this statement can change')]");

    await d.open("/banks?company=HSF&book=IFRS&period=2026-10&account=HSF-SAVE");
    await (await d.button("Reopen")).click();
    await (await d.see("//input[@aria-label='Reason']")).sendKeys("A line too many", Key.ENTER);
    await d.see("//*[contains(., 'reopened by Pavel Strand')]");
    // Closed once more: the close of a period in another test asks for it.
    await (await d.button("Close reconciliation on 31 Oct 2026")).click();
    await d.see("//section//a[contains(., '31 Oct 2026')]");
  });

  test("a table comes in once it is said how it is read, is seen at its line, and taken back", async () => {
    const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-files-"));
    const file = path.join(folder, "sound-mutual.csv");
    writeFileSync(
      file,
      "Konto\r\nBuchungstag;Betrag;Verwendungszweck\r\n04.11.2026;1.180,00;Zinsgutschrift\r\n",
    );
    await d.open(`/banks/statements?${november}`);
    await d.see("//tbody/tr[contains(., '212')]");
    await browser.findElement(By.css("input[type=file]")).sendKeys(file);
    await d.see("//h2[contains(., 'How sound-mutual.csv is read')]");
    await d.see("//section[contains(., '1,180.00 EUR')][contains(., 'Zinsgutschrift')]");
    await (await d.button("Take in and keep the reading")).click();
    await d.see("//*[@role='alert'][contains(., 'Choose a bank account')]");
    await browser.findElement(By.id("reading-bank")).sendKeys("HSF-SAVE");
    await (await d.button("Take in and keep the reading")).click();
    await d.see("//*[contains(., '1 statement, 1 line')]");

    await d.open(`/banks/lines?${november}&status=all&text=Zinsgutschrift`);
    await d.click("//tbody/tr[contains(., 'Zinsgutschrift')]");
    await d.click("//a[contains(., 'sound-mutual.csv, line 3')]");
    await d.see("//tr[contains(@class, 'bg-yellow')][contains(., '04.11.2026;1.180,00')]");
    await (await d.button("Take back")).click();
    await d.press("The wrong account");
    await d.press(Key.ENTER);
    await d.see("//*[contains(., 'taken back')]");
    await d.open(`/banks/statements/files?${november}`);
    await d.see("//tbody/tr[contains(., 'sound-mutual.csv')][contains(., 'The wrong account')]");
  });

  test("a cash book is written in, and gives no more than it has", async () => {
    await d.open(`/banks/register?${november}&account=HSF-CASH`);
    await (await d.button("Add an entry")).click();
    await d.field("cash-amount", "5000");
    await d.field("cash-text", "Anchor chain");
    await d.field("cash-account", "7240");
    await d.field("cash-costCentre", "A-FIN");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//p[contains(., 'nobody takes out what is not in it')]");
    await d.field("cash-amount", "11.40");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//tbody/tr[contains(., 'Anchor chain')][contains(., '200.00')]");
  });

  test("a slip of cheques is made by keyboard, deposited, and one of them comes back", async () => {
    await d.open(`/banks/deposits/new?${november}`);
    // A customer with many open items: lines that were posted before have taken some.
    await d.field("part-partner", "ostry council");
    await d.click("//ul[@aria-label='Customers']//button[contains(., 'Ostry Council')]");
    await d.field("part-cheque", "500100");
    await d.click("(//ul[@aria-label='Open items']//input)[1]");
    await d.press(Key.ENTER);
    await d.click("//button[normalize-space(.)='Add to the slip']");
    await d.see("//td[normalize-space()='500100']");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[contains(., 'HSF-26-D0')]");
    await d.click("//button[normalize-space(.)='Note return']");
    await d.field("return-reason", "no funds");
    await d.press(Key.ENTER);
    await d.see("//td[contains(., 'Returned')]");
    await d.open(`/banks/deposits?${november}`);
    await d.see("//tbody/tr[contains(., 'HSF-26-D0')]");
  });

  test("a cheque is laid out on its paper: dragged, moved by arrows, refused where it cannot be, saved, and seen", async () => {
    await d.signIn("controller");
    await d.open("/setup/banks/papers?company=HSF&account=HSF-MAIN");
    const payee = await d.see("//button[@id='piece-payee']");
    const place = async () => (await payee.getAttribute("aria-label")) ?? "";
    expect(await place()).toContain("26 mm from the left, 31 mm from the top");
    // Near the left edge of the other pieces it jumps in line with them.
    const by = (x: number) => ({ origin: Origin.POINTER, x, y: 0 });
    const hand = browser.actions().move({ origin: payee }).press();
    await hand.move(by(-10)).move(by(-32)).release().perform();
    await browser.wait(async () => (await place()).includes("15 mm from the left"), WAIT);
    await payee.sendKeys(Key.ARROW_DOWN, Key.ARROW_DOWN, Key.chord(Key.SHIFT, Key.ARROW_UP));
    expect(await place()).toContain("32.9 mm from the top");
    await d.field("place-y", "85");
    await d.see("//p[contains(., 'band of the magnetic line, which has to be clear')]");
    await d.field("place-y", "33");
    await (await d.button("Save")).click();
    await d.see("//*[contains(., 'What is printed from now on looks like this')]");
    await d.open("/setup/banks/papers?company=HSF&account=HSF-MAIN");
    await d.see("//button[@id='piece-payee'][contains(@aria-label, '15 mm from the left, 33 mm')]");
    const sample = await d.fetch("/export/bank-paper?code=HSF-MAIN&kind=cheque");
    expect(sample).toMatchObject({ status: 200, type: "application/pdf" });
    await d.signIn("treasury");
  });

  test("a bill that a customer has accepted is put on a slip by keyboard, and is due later", async () => {
    await d.open(`/banks/deposits/new?${november}`);
    await d.field("part-partner", "fennick");
    await d.click("//ul[@aria-label='Customers']//button[contains(., 'Fennick')]");
    await d.click("//select[@id='part-kind']/option[.='Bill of exchange']");
    await d.field("part-cheque", "W-20499");
    await d.field("part-amount", "120.00");
    await d.press(Key.ENTER);
    await d.see("//*[@role='alert'][contains(., 'The day on which it is due is missing')]");
    await d.field("part-due", "15 Jan 2027");
    await (await d.button("Add to the slip")).click();
    await d.see("//td[contains(., 'W-20499, due 15 Jan 2027')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//td[contains(., 'W-20499, due 15 Jan 2027')]");
    await d.see("//button[normalize-space(.)='Print']");
  });

  test("money is moved to another account by keyboard, goes out in a file, and is under way in both", async () => {
    await d.open(`/banks/transfers/new?${november}`);
    const amount = await d.see("//input[@aria-label='Amount to HSF-SAVE']");
    await amount.sendKeys("12x");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//td//*[@role='alert'][contains(., '12x')]");
    await amount.sendKeys(Key.BACK_SPACE, "00");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//h1[contains(., 'Transfers of')]");
    await d.chord([Key.CONTROL, Key.SHIFT], Key.ENTER);
    await d.see("//span[normalize-space(.)='Posted']");
    await d.click("//button[normalize-space(.)='Payments 1']");
    await d.click("//button[contains(., 'Make the file for the bank')]");
    await d.see("//a[contains(., '.xml')]");
    await d.open(`/banks/transfers?${november}`);
    await d.see(
      "//tbody/tr[contains(., 'HSF-SAVE')][contains(., '1,200.00')][contains(., 'Sent')]",
    );
  });

  test("the cash position opens into what a week is made of, for all companies too", async () => {
    await d.open(`/banks/cash?${november}`);
    await d.click("(//td/button[contains(., 'Nov')])[2]");
    await d.see("//h3[contains(., 'Receivables')]");
    await d.see("//*[contains(., 'items were settled')]");
    await d.click("//button[normalize-space(.)='All companies']");
    await d.see("//td[contains(., 'All in GBP')]");
  });

  test("an account and its bank are one form, with an IBAN proposed", async () => {
    await d.signIn("controller");
    await d.open("/setup/banks?company=HSF");
    await (await d.button("Add a bank account")).click();
    await d.field("record-code", "HSF-NEW");
    await d.field("record-name", "Savings in Germany");
    await d.click("//select[@id='record-bankId']/option[.='A new bank']");
    await d.field("record-newBank.name", "Harbour Bank, Lower Quay");
    await d.field("record-newBank.country", "DE");
    await d.field("record-newBank.nationalCode", "99999999");
    await d.field("record-number", "4711");
    const iban = await d.see("//input[@id='record-iban']");
    expect(await iban.getAttribute("value")).toMatch(/^DE\d\d 9999 9999 0000 0047 11$/);
    await d.field("record-account", "1117");
    await d.field("record-underWayAccount", "1120");
    await (await d.button("Save")).click();
    await d.see("//tbody/tr[contains(., 'HSF-NEW')][contains(., 'Harbour Bank')]");
    // Whoever has entered it does not agree to it; somebody else does.
    await d.click("//tbody/tr[contains(., 'HSF-NEW')]");
    await (await d.button("Agree")).click();
    await d.see("//*[@role='alert'][contains(., 'You have changed it yourself')]");
    await d.signIn("treasury");
    await d.open("/setup/banks?company=HSF");
    await d.click("//tbody/tr[contains(., 'HSF-NEW')][contains(., 'new, waits')]");
    await (await d.button("Agree")).click();
    await d.see("//*[contains(., 'HSF-NEW: agreed.')]");
  });
});
