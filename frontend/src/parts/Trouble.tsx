/** What went wrong, in words, near where it happened. */
export function Trouble({ error }: { error: Error | null }) {
  if (error === null) return null;
  return (
    <p role="alert" className="rounded-md border-2 border-above bg-sheet px-3 py-2 text-ink">
      {error.message}
    </p>
  );
}
