import { addDays, amountText, isCurrency } from "../../shared";
import type { BankStatement, StatementFault, StatementLine } from "./statement";

/** How far apart the days of a line and its statement may lie. */
const FAR = 400;

/**
 * What cannot be about a statement: its lines do not lead from the opening to the closing balance,
 * parts of a batch are not the batch, its days are out of order. Empty where it holds together.
 * Amounts are compared to the minor unit.
 */
export function checkStatement(statement: BankStatement): StatementFault[] {
  const { currency, opening, closing, lines } = statement;
  if (!isCurrency(currency))
    return [{ line: statement.from, what: `Currency ${currency || "(none)"} is not known` }];
  const faults: StatementFault[] = [];
  const text = (amount: bigint) => `${amountText(amount, currency)} ${currency}`;
  const sum = lines.reduce((t, l) => t + l.amount, 0n);
  if (opening.amount + sum !== closing.amount)
    faults.push({
      line: statement.from,
      what:
        `Statement ${statement.number}: opening ${text(opening.amount)} and lines of ${text(sum)} come to ` +
        `${text(opening.amount + sum)}, but it closes with ${text(closing.amount)}`,
    });
  if (opening.date > closing.date)
    faults.push({
      line: statement.from,
      what: `Statement ${statement.number} opens on ${opening.date}, after it closes on ${closing.date}`,
    });
  const earliest = addDays(opening.date, -FAR);
  for (const l of lines) {
    if (l.booked > closing.date || l.booked < earliest)
      faults.push({
        line: l.from,
        what: `Booked on ${l.booked}, outside the statement of ${opening.date} to ${closing.date}`,
      });
    if (l.amount === 0n && l.details.length === 0)
      faults.push({ line: l.from, what: "A line of nothing" });
    faults.push(...partFaults(l, currency));
  }
  return faults;
}

/** That the parts of a batch, where the bank gives the amount of each, do not come to it. */
export function partFaults(line: StatementLine, currency: string): StatementFault[] {
  const text = (amount: bigint) => `${amountText(amount, currency)} ${currency}`;
  const known = line.details.flatMap((d) => (d.amount === null ? [] : [d.amount]));
  const inParts = known.reduce((t, a) => t + a, 0n);
  return known.length > 1 && known.length === line.details.length && inParts !== line.amount
    ? [
        {
          line: line.from,
          what: `Its ${known.length} parts come to ${text(inParts)}, the line to ${text(line.amount)}`,
        },
      ]
    : [];
}
