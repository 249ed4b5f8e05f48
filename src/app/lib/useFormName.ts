import { useState } from "react";

/** A name for one form while it is open, by which the server knows what it sends twice. */
export function useFormName(): string {
  const [name] = useState(() =>
    Array.from(crypto.getRandomValues(new Uint32Array(3)), (n) => n.toString(36)).join(""),
  );
  return name;
}
