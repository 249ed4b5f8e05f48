"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useEffect, useState, type ReactNode } from "react";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Toaster } from "sonner";
import { Search } from "lucide-react";
import { AREA_ENTRIES } from "./areas";
import { AreaPages, useAreaTabs } from "./AreaPages";
import { Find } from "./Find";
import { KeyHelp } from "./KeyHelp";
import { areaOf } from "./pages";
import { useBelongs } from "./belongs";
import { useWork } from "./work";
import { Mark } from "../Mark";
import { SignInAgain, type SignIn } from "./SignInAgain";

/** Rail, top line, and the keys that work everywhere. */
export function Frame({
  children,
  signOut,
  signIn,
  jobs,
}: {
  children: ReactNode;
  signOut: () => Promise<void>;
  signIn: SignIn;
  /** What is under way, for the top line. */
  jobs: ReactNode;
}) {
  const work = useWork();
  const router = useRouter();
  const [finding, setFinding] = useState(false);
  const [helping, setHelping] = useState(false);
  const areas = AREA_ENTRIES.filter((a) => a.rights.length === 0 || a.rights.some(work.may));
  const tabs = useAreaTabs();

  useEffect(() => {
    let waiting = 0;
    const onKey = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement &&
        (event.target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName));
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        setFinding(true);
      } else if (!typing && !event.ctrlKey && !event.altKey && !event.metaKey) {
        if (event.key === "?") {
          event.preventDefault();
          setHelping(true);
        } else if (
          event.key === "n" &&
          Date.now() - waiting >= 1500 &&
          work.may("prepare.ledger")
        ) {
          event.preventDefault();
          router.push(work.link("/ledger/journals/new"));
        } else if (event.key === "t" && Date.now() - waiting >= 1500) {
          // The strip says whether there is another period to come back from.
          document.querySelector<HTMLElement>("[data-to-today]")?.click();
        } else if (event.key === "g") waiting = Date.now();
        else if (Date.now() - waiting < 1500) {
          waiting = 0;
          const tab = tabs[Number(event.key) - 1];
          const to = areas.find((a) => a.key === event.key) ?? tab;
          if (to) {
            event.preventDefault();
            router.push(work.link(to.href));
          }
        }
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  return (
    <>
      <a
        href="#page"
        className="sr-only focus:not-sr-only focus:absolute focus:z-40 focus:bg-panel focus:px-3 focus:py-2"
      >
        Skip to the page
      </a>
      <SignInAgain login={work.person.login} signIn={signIn} />
      <div className="grid h-screen min-w-[700px] grid-cols-[68px_minmax(0,1fr)] grid-rows-[minmax(0,1fr)] print:block print:h-auto">
        <Rail areas={areas} />
        <div className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[44px_minmax(0,1fr)] print:block">
          <header className="no-print flex items-center gap-3 border-b border-line bg-panel pl-1.5 pr-4">
            <AreaPages />
            <button
              type="button"
              onClick={() => setFinding(true)}
              className="flex h-[29px] w-[150px] shrink-0 items-center gap-2 rounded-[7px] border border-line bg-shade px-2.5 text-left text-ink-3"
              aria-label="Find"
            >
              <Search size={14} aria-hidden />
              <span className="flex-1">Find</span>
              <kbd>Ctrl K</kbd>
            </button>
            {jobs}
            <PersonMenu signOut={signOut} onKeys={() => setHelping(true)} />
          </header>
          <main id="page" tabIndex={-1} className="min-h-0 overflow-hidden print:overflow-visible">
            {children}
          </main>
        </div>
      </div>
      <Find open={finding} onClose={() => setFinding(false)} areas={areas} />
      <KeyHelp open={helping} onClose={() => setHelping(false)} areas={areas} />
      <Toaster
        position="bottom-right"
        offset={64}
        toastOptions={{ style: { fontFamily: "inherit", fontSize: "13.5px" } }}
      />
    </>
  );
}

function Rail({ areas }: { areas: typeof AREA_ENTRIES }) {
  const work = useWork();
  const pathname = useBelongs();
  return (
    <nav
      aria-label="Areas"
      className="no-print flex flex-col items-center gap-0.5 overflow-y-auto bg-petrol py-2.5"
    >
      <Link
        href={work.link("/today")}
        aria-label="Yellow Anchor, today"
        className="mb-2 grid size-[38px] place-items-center rounded-lg"
      >
        <Mark size={30} />
      </Link>
      {areas.map(({ code, name, href, icon: Icon, key }) => {
        const on = areaOf(pathname) === code;
        return (
          <Link
            key={code}
            href={work.link(href)}
            title={`${name} (g ${key})`}
            aria-current={on ? "page" : undefined}
            className={`relative flex w-[60px] flex-col items-center gap-0.5 rounded-lg pb-1.5 pt-2 text-[11px] outline-offset-[-2px] hover:text-white ${on ? "bg-petrol-2 text-white before:absolute before:-left-1 before:top-2 before:h-[34px] before:w-1 before:rounded-r before:bg-yellow" : "text-rail"}`}
          >
            <Icon size={19} strokeWidth={1.7} aria-hidden />
            {name}
          </Link>
        );
      })}
    </nav>
  );
}

function PersonMenu({ signOut, onKeys }: { signOut: () => Promise<void>; onKeys: () => void }) {
  const { person } = useWork();
  const item = "block w-full rounded px-2.5 py-1.5 text-left data-focus:bg-sea-2";
  const setTheme = () => {
    const dark = document.documentElement.dataset.theme !== "dark";
    document.documentElement.dataset.theme = dark ? "dark" : "light";
    document.cookie = `theme=${dark ? "dark" : "light"}; path=/; max-age=31536000; samesite=lax`;
  };
  return (
    <Menu>
      <MenuButton
        aria-label={`${person.name}: menu`}
        className="grid size-[26px] place-items-center rounded-full bg-petrol text-[11px] font-bold text-white"
      >
        {person.initials}
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-30 mt-1 w-60 rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] focus:outline-none"
      >
        <div className="border-b border-line-2 px-2.5 pb-2 pt-1">
          <div className="font-semibold">{person.name}</div>
          <div className="text-xs text-ink-3">{person.roles.join(", ")}</div>
        </div>
        <MenuItem>
          <Link href="/account" className={item}>
            My account
          </Link>
        </MenuItem>
        <MenuItem>
          <button type="button" className={item} onClick={setTheme}>
            Light or dark
          </button>
        </MenuItem>
        <MenuItem>
          <button type="button" className={item} onClick={onKeys}>
            Keys of this page <kbd className="float-right">?</kbd>
          </button>
        </MenuItem>
        <MenuItem>
          <Link href="/api/docs" className={item}>
            Interface for programs
          </Link>
        </MenuItem>
        <MenuItem>
          <button type="button" className={item} onClick={() => void signOut()}>
            Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}
