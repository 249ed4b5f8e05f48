import { describeFound } from "@/core/shared";
import { listShortcuts, listTemplates } from "@/server/ledger";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { Shortcuts } from "./Shortcuts";

export const metadata = { title: "Shortcuts and templates" };

export default async function ShortcutsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const shortcuts = await listShortcuts(caller, { company: place.company });
  const templates = await listTemplates(caller, { company: place.company });
  if (!shortcuts.ok || !templates.ok)
    return (
      <Page title="Shortcuts and templates">
        <Problems messages={(shortcuts.ok ? [] : shortcuts.problems).map(describeFound)} />
      </Page>
    );
  const { person, dimensions } = await frameData();
  return (
    <Shortcuts
      company={place.company}
      rows={shortcuts.value}
      templates={templates.value.map(({ id, name, savedBy, content }) => ({
        id,
        name,
        savedBy,
        lines: content.lines.length,
      }))}
      dimensions={dimensions}
      mayChange={person.rights.includes("setup.shortcuts")}
    />
  );
}
