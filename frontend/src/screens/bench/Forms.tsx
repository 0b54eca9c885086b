import { LayoutGrid, ListOrdered, Users } from "lucide-react";
import { Link } from "react-router";

import { MORE_ENTRY } from "../../parts/More";

const FORMS = [
  { at: "bench", said: "Everything at once", Icon: LayoutGrid },
  { at: "plain", said: "Plainly: string by string", Icon: ListOrdered },
  { at: "two", said: "Two people: one plays, one turns", Icon: Users },
] as const;

/** The other forms of this bench: the same instrument, entries and advice, laid out otherwise. */
export function Forms({ here, id }: { here: (typeof FORMS)[number]["at"]; id: string }) {
  return FORMS.filter(({ at }) => at !== here).map(({ at, said, Icon }) => (
    <Link key={at} to={`/${at}/${id}`} className={MORE_ENTRY}>
      <Icon size={18} aria-hidden /> {said}
    </Link>
  ));
}
