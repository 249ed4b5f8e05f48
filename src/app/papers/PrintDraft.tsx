/**
 * A bill or note of ours as a PDF. By POST, because each time is counted: from the second time on it
 * is a copy.
 */
export function PrintDraft({
  id,
  no = 0,
  label,
  className = "button",
}: {
  /** The payment, or the slip. */
  id: number;
  /** The part of the slip. */
  no?: number;
  label: string;
  className?: string;
}) {
  return (
    <form action="/export/draft" method="post" className="inline">
      <input type="hidden" name="id" value={id} />
      <input type="hidden" name="no" value={no} />
      <button type="submit" className={className}>
        {label}
      </button>
    </form>
  );
}
