/** What a filter on amounts asks for: bounds, as decimals, or figures that the amount holds. */
export type AmountFilter =
  { bounds: { by: "<" | "<=" | ">" | ">="; than: string }[] } | { holds: string };

/** A decimal as one types it, thousands apart by commas or not. */
const FIGURE = /^-?(\d{1,3}(,\d{3})+|\d+)(\.\d+)?$/;

/**
 * Reads what was typed above a column of amounts: `>500`, `<=1,000.50`, `500..900` (both included),
 * or a part of the figure as it is shown.
 */
export function readAmountFilter(typed: string): AmountFilter {
  const text = typed.trim();
  const [from = "", to = ""] = text.split("..").map((part) => part.trim());
  if (FIGURE.test(from) && FIGURE.test(to))
    return {
      bounds: [
        { by: ">=", than: plain(from) },
        { by: "<=", than: plain(to) },
      ],
    };
  const by = ([">=", "<=", ">", "<"] as const).find((sign) => text.startsWith(sign));
  const than = by && text.slice(by.length).trim();
  if (by && than && FIGURE.test(than)) return { bounds: [{ by, than: plain(than) }] };
  return { holds: text };
}

const plain = (figure: string): string => figure.replaceAll(",", "");
