import { addDays, type CalendarDate } from "@/core/shared";
import { cc, units, type Books } from "./books";
import { randomFrom } from "./random";
import { SMALL_CUSTOMERS } from "./structure";

const SOLD = [
  ["berth dues", "4210", "HARB", 240, 1_900],
  ["freight", "4130", "R-INN", 380, 2_600],
  ["lorries", "4120", "R-OST", 310, 2_200],
  ["group tickets", "4040", "R-KES", 150, 1_400],
] as const;

/** How many days after its due date each pays: most in time, some late, a few very late. */
const LATE = [0, 0, 1, 2, 0, 3, 6, 0, 9, 14, 0, 4, 21];

/** Invoices that were never paid, by month and customer. */
const NEVER_PAID: ReadonlySet<string> = new Set([
  "2025-07 Blackwater Net Menders",
  "2025-10 Elmwood Caravans",
  "2026-02 Glimmer Bay Tours",
  "2026-04 Quill Lane Records",
]);
/** Days after its due date that no demo comes to see. */
const NEVER = 9999;

/** The month of the small customers: an invoice or two for each, numbered apart from the large ones. */
export function sellToSmallCustomers(b: Books, first: CalendarDate): void {
  const random = randomFrom(Number(first.replaceAll("-", "").slice(0, 6)));
  let number = 0;
  SMALL_CUSTOMERS.forEach((customer, i) => {
    for (let n = random.between(1, 10) > 8 ? 2 : 1; n > 0; n--) {
      const [text, account, centre, least, most] = SOLD[(i + n) % SOLD.length]!;
      number += 1;
      b.sell(
        addDays(first, random.between(2, 26)),
        customer,
        text,
        [{ account, net: units(random.between(least, most)), coding: cc(centre) }],
        NEVER_PAID.has(`${first.slice(0, 7)} ${customer}`) ? NEVER : LATE[i % LATE.length],
        undefined,
        `BF-${first.slice(2, 4)}${first.slice(5, 7)}${String(number).padStart(3, "0")}`,
      );
    }
  });
}
