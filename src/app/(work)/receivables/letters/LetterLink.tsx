/** The letter of a run to a customer, as it is or will be sent. */
export const LetterLink = ({
  run,
  customer,
  name,
}: {
  run: number;
  customer: string;
  name: string;
}) => (
  <a
    className="link"
    target="_blank"
    rel="noreferrer"
    aria-label={`Letter to ${name}`}
    href={`/export/customer-letter?run=${run}&customer=${encodeURIComponent(customer)}`}
  >
    PDF
  </a>
);
