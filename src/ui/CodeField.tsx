/** The code of the second factor, or one of the recovery codes. */
export function CodeField({
  value,
  onChange,
}: {
  value?: string;
  onChange?: (code: string) => void;
}) {
  return (
    <div>
      <label className="label" htmlFor="code">
        Code from your authenticator
      </label>
      <input
        id="code"
        name="code"
        className="field"
        autoComplete="one-time-code"
        autoFocus
        required
        maxLength={40}
        aria-describedby="code-help"
        {...(onChange ? { value, onChange: (e) => onChange(e.target.value) } : {})}
      />
      <p id="code-help" className="mt-1 text-xs text-ink-3">
        Six figures, or one of your recovery codes.
      </p>
    </div>
  );
}
