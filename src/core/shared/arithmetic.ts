import Decimal from "decimal.js";
import { DEFAULT_FORMAT, plainFigure, type NumberFormat } from "./amountText";

const Exact = Decimal.clone({ precision: 40 });

/**
 * Computes what is typed after "=" in an amount: + − × ÷ (also * and /), per cent, brackets, with
 * thousands separators.
 * Rounding: half away from zero to `decimals`, once, at the end. Null where the text is no
 * arithmetic, or divides by zero.
 * Rule: multiplication and division before addition and subtraction, from the left; 5% is 0.05.
 */
export function compute(
  text: string,
  decimals: number,
  format: NumberFormat = DEFAULT_FORMAT,
): string | null {
  if (text.length > 500) return null;
  const tokens =
    text
      .replace(/[×]/g, "*")
      .replace(/[÷]/g, "/")
      .replace(/[−–]/g, "-")
      .match(/\d[\d.,']*|[-+*/()%]|\S/g) ?? [];
  let at = 0;
  const isNumber = (token: string | undefined): token is string =>
    token !== undefined && /^\d/.test(token);
  const number = (): Decimal | null => {
    const token = tokens[at];
    if (token === "-" || token === "+") {
      at++;
      const value = number();
      return value && token === "-" ? value.neg() : value;
    }
    let value: Decimal | null = null;
    if (token === "(") {
      at++;
      value = sum();
      if (tokens[at++] !== ")") return null;
    } else if (isNumber(token)) {
      at++;
      const plain = plainFigure(token, format);
      if (plain === null) return null;
      value = new Exact(plain);
    }
    while (value && tokens[at] === "%") {
      at++;
      value = value.div(100);
    }
    return value;
  };
  const product = (): Decimal | null => {
    let left = number();
    while (left && (tokens[at] === "*" || tokens[at] === "/")) {
      const divide = tokens[at++] === "/";
      const right = number();
      if (!right || (divide && right.isZero())) return null;
      left = divide ? left.div(right) : left.mul(right);
    }
    return left;
  };
  const sum = (): Decimal | null => {
    let left = product();
    while (left && (tokens[at] === "+" || tokens[at] === "-")) {
      const subtract = tokens[at++] === "-";
      const right = product();
      if (!right) return null;
      left = subtract ? left.sub(right) : left.add(right);
    }
    return left;
  };
  const result = sum();
  return result === null || at < tokens.length
    ? null
    : result.toDecimalPlaces(decimals, Decimal.ROUND_HALF_UP).toFixed(decimals);
}
