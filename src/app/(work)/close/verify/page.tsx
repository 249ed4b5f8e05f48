import { describeFound } from "@/core/shared";
import { listSeals, verifyBooks } from "@/server/closing";
import { Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { pageCaller } from "@/app/lib/session";
import { SealsPanel } from "./SealsPanel";

export const metadata = { title: "Verify" };

export default async function VerifyPage() {
  const caller = await pageCaller();
  const result = await verifyBooks(caller);
  const sealed = await listSeals(caller);
  if (!result.ok)
    return (
      <Page title="Verify">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { checks, at } = result.value;
  const faults = checks.reduce((n, c) => n + c.faults.length, 0);
  return (
    <Page
      title="Verify"
      status={<Status of={faults === 0 ? "holds" : "fails"} />}
      actions={
        <a className="button" href="/export/seals" download>
          Download the seals
        </a>
      }
      note={`all companies · rebuilt from the journal lines at ${at.slice(11, 19)} UTC`}
    >
      <div className="panel overflow-auto" tabIndex={0} role="region" aria-label="Checks">
        <table className="sheet">
          <thead>
            <tr>
              <th className="w-28">Status</th>
              <th>Check</th>
              <th className="num w-40">Records checked</th>
              <th>Finding</th>
            </tr>
          </thead>
          <tbody>
            {checks.map((c) => (
              <tr key={c.name}>
                <td>
                  <Status of={c.faults.length === 0 ? "holds" : "fails"} />
                </td>
                <td className="font-semibold">{c.name}</td>
                <td className="num">{c.looked.toLocaleString("en")}</td>
                <td className="whitespace-normal!">
                  {c.faults.length === 0 ? "nothing" : c.faults.join("; ")}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {sealed.ok && <SealsPanel seals={sealed.value} />}
    </Page>
  );
}
