"use client";
import dynamic from "next/dynamic";

export interface BandPoint {
  name: string;
  /** What is drawn: for the eye only, so rounded numbers will do. */
  closing: number;
  low: number;
  high: number;
  in: number;
  out: number;
  /** What is read of each, as amounts in a person's way of writing. */
  texts: { closing: string; low: string; high: string; in: string; out: string };
}

const BalanceBandDrawing = dynamic(() => import("./BalanceBandDrawing"), { ssr: false });

/**
 * A balance as a line in the band of what it could be, over what comes in and goes out. The same
 * figures stand in a table beside the picture, for those who do not see it.
 */
export function BalanceBand({
  label,
  points,
  onChoose,
}: {
  label: string;
  points: readonly BandPoint[];
  onChoose?: (index: number) => void;
}) {
  return (
    <figure className="relative min-h-0 min-w-0 flex-1 overflow-hidden" aria-label={label}>
      <div aria-hidden className="h-full">
        <BalanceBandDrawing points={points} {...(onChoose && { onChoose })} />
      </div>
      <table className="sr-only">
        <caption>{label}</caption>
        <thead>
          <tr>
            {["Up to", "In", "Out", "Balance", "At the least", "At the most"].map((h) => (
              <th key={h} scope="col">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {points.map(({ name, texts }) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td>{texts.in}</td>
              <td>{texts.out}</td>
              <td>{texts.closing}</td>
              <td>{texts.low}</td>
              <td>{texts.high}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}
