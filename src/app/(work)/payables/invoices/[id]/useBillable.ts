import { useCallback, useEffect, useRef, useState } from "react";
import type { BillableLine } from "@/server/purchasing";
import { billableLinesAction } from "../actions";

const NONE: BillableLine[] = [];
type Asked = { key: string; lines: Promise<BillableLine[]> };

/**
 * Lines of a supplier's orders in force that can be billed: those that have come, and a promise of
 * them for whoever is faster than the server.
 */
export function useBillable(company: string, supplier: string) {
  const [found, setFound] = useState<{ key: string; lines: BillableLine[] } | null>(null);
  const asked = useRef<Asked | null>(null);
  const key = `${company}|${supplier}`;
  const load = useCallback((): Promise<BillableLine[]> => {
    if (supplier === "") return Promise.resolve(NONE);
    const of = `${company}|${supplier}`;
    if (asked.current?.key !== of)
      asked.current = {
        key: of,
        lines: billableLinesAction(company, supplier).then(
          (result) => (result.ok ? result.value : NONE),
          () => NONE,
        ),
      };
    return asked.current.lines;
  }, [company, supplier]);
  useEffect(() => {
    let live = true;
    void load().then((lines) => live && setFound({ key: `${company}|${supplier}`, lines }));
    return () => {
      live = false;
    };
  }, [load, company, supplier]);
  return { lines: found?.key === key ? found.lines : NONE, load };
}
