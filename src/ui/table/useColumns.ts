import { useMemo, useState } from "react";
import type { TableColumn } from "./tableColumn";

/**
 * Which columns of a table are shown, and in what order: as it was kept from last time, as
 * "key,key|hidden,hidden", and kept again at each change.
 */
export function useColumns<T>(
  columns: readonly TableColumn<T>[],
  kept: string | undefined,
  keep: ((value: string) => void) | undefined,
) {
  const start = useMemo(() => {
    const [o = "", h = ""] = (kept ?? "").split("|");
    const order = o.split(",").filter((k) => columns.some((c) => c.key === k));
    const hidden =
      kept === undefined
        ? columns.filter((c) => c.hidden).map((c) => c.key)
        : [
            ...h.split(",").filter(Boolean),
            // What came later than the choice, and is hidden unless somebody asks for it.
            ...columns.filter((c) => c.hidden && !o.split(",").includes(c.key)).map((c) => c.key),
          ];
    return {
      // Columns that came later stand where they were put.
      order: order.length === columns.length ? order : columns.map((c) => c.key),
      visibility: Object.fromEntries(hidden.map((k) => [k, false])),
    };
    // Only what it begins with: from then on the person says.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const [order, setOrder] = useState<string[]>(start.order);
  const [visibility, setVisibility] = useState<Record<string, boolean>>(start.visibility);
  const byKey = useMemo(() => new Map(columns.map((c) => [c.key, c])), [columns]);
  const keys = [
    ...order.filter((k) => byKey.has(k)),
    ...[...byKey.keys()].filter((k) => !order.includes(k)),
  ];
  const remember = (nextOrder: string[], next: Record<string, boolean>) =>
    keep?.(
      `${nextOrder.join(",")}|${Object.keys(next)
        .filter((k) => next[k] === false)
        .join(",")}`,
    );
  return {
    all: keys.map((k) => byKey.get(k)!),
    visible: keys.map((k) => byKey.get(k)!).filter((c) => visibility[c.key] !== false),
    isShown: (key: string) => visibility[key] !== false,
    show: (key: string, shown: boolean) => {
      const next = { ...visibility, [key]: shown };
      setVisibility(next);
      remember(keys, next);
    },
    move: (key: string, by: 1 | -1) => {
      const i = keys.indexOf(key);
      const next = [...keys];
      [next[i], next[i + by]] = [next[i + by]!, next[i]!];
      setOrder(next);
      remember(next, visibility);
    },
  };
}
export type Columns<T> = ReturnType<typeof useColumns<T>>;
