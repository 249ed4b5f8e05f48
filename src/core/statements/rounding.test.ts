import fc from "fast-check";
import { expect, test } from "vitest";
import { scaledAmount } from "../shared";
import type { EvaluatedLine } from "./evaluate";
import { roundingDifference } from "./rounding";

const line = (code: string, value: bigint, more: Partial<EvaluatedLine> = {}): EvaluatedLine =>
  ({
    code,
    label: code,
    kind: "accounts",
    positive: "credit",
    level: 0,
    values: [value],
    ...more,
  }) as EvaluatedLine;

test("what is shown of the lines and the rounding difference add up to what is shown of the total, for any amounts and sides", () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.bigInt({ min: -(10n ** 12n), max: 10n ** 12n }), fc.boolean()), {
        minLength: 1,
        maxLength: 12,
      }),
      fc.constantFrom(1000 as const, 1_000_000 as const),
      fc.constantFrom("EUR", "JPY", "KWD"),
      (parts, scale, currency) => {
        const lines = parts.map(([value, debit], i) =>
          line(`l${i}`, value, { positive: debit ? "debit" : "credit" }),
        );
        const net = parts.reduce((t, [value, debit]) => (debit ? t - value : t + value), 0n);
        const total = line("total", net, { kind: "total", of: lines.map((l) => l.code) });
        const byCode = new Map([...lines, total].map((l) => [l.code, l]));
        const shown = parts.reduce((t, [value, debit]) => {
          const units = scaledAmount(value, currency, scale);
          return debit ? t - units : t + units;
        }, 0n);
        const difference = roundingDifference(total, 0, byCode, { currency, scale });
        expect(shown + difference).toBe(scaledAmount(net, currency, scale));
        // Each line is off by half a unit at most.
        expect(difference <= BigInt(parts.length) && -difference <= BigInt(parts.length)).toBe(
          true,
        );
        expect(roundingDifference(total, 0, byCode, { currency, scale: 1 })).toBe(0n);
      },
    ),
  );
});
