import { usePathname } from "next/navigation";
import { useEffect, useSyncExternalStore } from "react";

/**
 * Where a page belongs whose own address does not say it: the chain of a document belongs to the
 * page of the document. Kept for one address; the next page belongs where its address says.
 */
let told: { at: string; to: string } | null = null;
const watchers = new Set<() => void>();

function watch(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/** The address by which the frame marks area and page. */
export function useBelongs(): string {
  const pathname = usePathname();
  const known = useSyncExternalStore(
    watch,
    () => told,
    () => null,
  );
  return known?.at === pathname ? known.to : pathname;
}

/** Says where the page in view belongs. */
export function useBelongsTo(to: string): void {
  const at = usePathname();
  useEffect(() => {
    told = { at, to };
    for (const watcher of watchers) watcher();
  }, [at, to]);
}
