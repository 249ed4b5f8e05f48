/** The widths of panels, in pixels, as this browser remembers them. */
export const LEAST = 280;
export const MOST = 760;

const watchers = new Set<() => void>();

export function watchWidths(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

export function keptWidth(name: string): number | null {
  const kept = Number(window.localStorage.getItem(`panel.${name}`) ?? NaN);
  return kept >= LEAST && kept <= MOST ? kept : null;
}

export function keepWidth(name: string, width: number): void {
  const kept = Math.round(Math.min(MOST, Math.max(LEAST, width)));
  window.localStorage.setItem(`panel.${name}`, String(kept));
  for (const watcher of watchers) watcher();
}
