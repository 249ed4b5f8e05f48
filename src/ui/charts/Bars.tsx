"use client";
import dynamic from "next/dynamic";

export interface Bar {
  name: string;
  /** What is drawn: for the eye only, so a rounded number will do. */
  value: number;
  /** What is read. */
  text: string;
  /** Wants attention: overdue, failed. Its name says so too. */
  late?: boolean;
}

const BarsDrawing = dynamic(() => import("./BarsDrawing"), { ssr: false });

/**
 * A few amounts as columns. The same figures stand in a table beside the picture, for those who do
 * not see it. The library that draws comes only where there is a picture.
 */
export function Bars({
  label,
  head,
  bars,
  onChoose,
}: {
  label: string;
  /** What the names are: "Due", "Month". */
  head: string;
  bars: readonly Bar[];
  onChoose?: (index: number) => void;
}) {
  return (
    <figure className="relative min-h-0 min-w-0 flex-1 overflow-hidden" aria-label={label}>
      <div aria-hidden className="h-full">
        <BarsDrawing bars={bars} {...(onChoose && { onChoose })} />
      </div>
      <table className="sr-only">
        <caption>{label}</caption>
        <thead>
          <tr>
            <th scope="col">{head}</th>
            <th scope="col">Amount</th>
          </tr>
        </thead>
        <tbody>
          {bars.map((b) => (
            <tr key={b.name}>
              <th scope="row">{b.name}</th>
              <td>{b.text}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}
