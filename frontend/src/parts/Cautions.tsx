import { TriangleAlert } from "lucide-react";

/** What to mind with this move and no other. */
export function Cautions({ said }: { said: string[] }) {
  return (
    <ul aria-label="Mind" className="flex flex-col gap-1">
      {said.map((each) => (
        <li key={each} className="flex gap-2">
          <TriangleAlert size={20} className="mt-0.5 shrink-0 text-above" aria-hidden />
          {each}
        </li>
      ))}
    </ul>
  );
}
