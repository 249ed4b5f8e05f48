import { useEffect, useState } from "react";
import { useRouter } from "next/navigation";

/**
 * Asks before what was typed is left behind: by a link of the application, or by the browser, which
 * asks in its own words. `leaving` is what goes on once somebody has decided, null while nobody
 * leaves.
 */
export function useLeaveGuard(dirty: boolean): {
  leaving: (() => void) | null;
  leave(then: () => void): void;
  stay(): void;
} {
  const [leaving, setLeaving] = useState<(() => void) | null>(null);
  const router = useRouter();
  useEffect(() => {
    if (!dirty) return;
    const onUnload = (event: BeforeUnloadEvent) => event.preventDefault();
    const onClick = (event: MouseEvent) => {
      const link = (event.target as Element | null)?.closest?.("a[href]");
      if (!link || event.ctrlKey || event.metaKey || event.shiftKey || event.defaultPrevented)
        return;
      const url = new URL((link as HTMLAnchorElement).href, window.location.href);
      if (url.origin !== window.location.origin || link.hasAttribute("download")) return;
      event.preventDefault();
      event.stopPropagation();
      setLeaving(() => () => router.push(url.pathname + url.search));
    };
    window.addEventListener("beforeunload", onUnload);
    document.addEventListener("click", onClick, true);
    return () => {
      window.removeEventListener("beforeunload", onUnload);
      document.removeEventListener("click", onClick, true);
    };
  }, [dirty, router]);
  return {
    leaving,
    leave: (then) => (dirty ? setLeaving(() => then) : then()),
    stay: () => setLeaving(null),
  };
}
