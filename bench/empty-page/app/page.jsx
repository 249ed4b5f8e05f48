export default function Page() {
  return <p>Empty</p>;
}
