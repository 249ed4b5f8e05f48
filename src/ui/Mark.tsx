/** The anchor. */
export function Mark({ size }: { size: number }) {
  return (
    <svg
      viewBox="0 0 32 32"
      width={size}
      height={size}
      fill="none"
      stroke="#ffc629"
      strokeWidth="3"
      strokeLinecap="round"
      aria-hidden
    >
      <circle cx="16" cy="6.5" r="3.2" />
      <path d="M16 10v18M10 14.5h12M5 19c1 6 5.5 9 11 9s10-3 11-9" />
    </svg>
  );
}
