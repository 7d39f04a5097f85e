import Link from "next/link";

export default function NotFound() {
  return (
    <main className="page-message">
      <h1>There is no such page</h1>
      <p>
        <Link href="/">Go to the ports</Link>
      </p>
    </main>
  );
}
