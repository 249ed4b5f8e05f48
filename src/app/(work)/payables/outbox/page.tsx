import { describeFound } from "@/core/shared";
import { documentPage } from "@/core/documents";
import { placeQuery } from "@/core/organisation";
import Link from "next/link";
import { listOutbox } from "@/server/letters";
import { ExportMenu } from "@/ui/table/ExportMenu";
import { Empty, Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { shownDate } from "@/ui/writing";

export const metadata = { title: "Remittances and letters" };

/** The simulated mailbox: what the application would have sent. */
export default async function OutboxPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await listOutbox(await pageCaller(), { company: place.company });
  if (!result.ok)
    return (
      <Page title="Remittances and letters">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <Page
      title="Remittances and letters"
      note="simulated: nothing leaves the house; what would have been sent can be read here"
      actions={
        <ExportMenu
          name="mailbox"
          headers={["Sent", "To", "Subject", "Text", "Attached", "For"]}
          rows={result.value.map((m) => [
            `${m.at.slice(0, 10)} ${m.at.slice(11, 16)}`,
            m.to,
            m.subject,
            m.body,
            m.files.map((f) => f.name).join(", "),
            m.document?.number ?? "",
          ])}
        />
      }
    >
      <div className="panel min-h-0 flex-1 overflow-auto">
        {result.value[0] && result.value[0].of > result.value.length && (
          <p className="px-3 pt-2 text-coral">
            The newest {result.value.length} of {result.value[0].of}.
          </p>
        )}
        {result.value.length === 0 ? (
          <Empty title="Nothing was sent">
            Invoices, letters, orders and remittance advices come here when they are sent.
          </Empty>
        ) : (
          <table className="sheet">
            <thead>
              <tr>
                <th className="w-32">Sent</th>
                <th className="w-64">Recipient</th>
                <th className="w-64">Subject</th>
                <th>Text</th>
                <th className="w-44">Attached</th>
                <th className="w-40">Document</th>
              </tr>
            </thead>
            <tbody>
              {result.value.map((m) => (
                <tr key={m.id}>
                  <td>
                    {shownDate(m.at.slice(0, 10))} {m.at.slice(11, 16)}
                  </td>
                  <td>{m.to}</td>
                  <td className="font-semibold">{m.subject}</td>
                  <td className="max-w-96 truncate" title={m.body}>
                    {m.body}
                  </td>
                  <td>
                    {m.files.map((f) => (
                      <a
                        key={f.no}
                        className="link mr-3 inline-block"
                        href={`/export/message?id=${m.id}&no=${f.no}`}
                      >
                        {f.name}
                      </a>
                    ))}
                  </td>
                  <td>
                    {m.document && (
                      <Link
                        className="link"
                        href={`${documentPage(m.document.kind, m.document.id)}?${placeQuery(place)}`}
                      >
                        {m.document.number}
                      </Link>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </Page>
  );
}
