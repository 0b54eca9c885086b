/** What a waiting entry looks like to the person who made it. */
export type Shown =
  | { what: "reading"; string: string; text: string }
  | { what: "move"; string: string; text: string }
  | { what: "change"; text: string };

/** Something entered at a bench, on its way to the server. Its id makes sure that it is stored once, however often it is sent. */
export interface Waiting {
  id: string;
  /** Its place in the row of all that was entered in this browser. */
  order: number;
  instrument: string;
  /** The studio it was made in; without one, by an older page: in whichever this browser knew. */
  studio?: string | null;
  /** The tuning it belongs to, where it begins one. */
  begins: string | null;
  request: { method: "POST" | "PATCH" | "DELETE"; path: string; body: object | null };
  shown: Shown;
  /** Why the server didn't take it; null: it wasn't asked yet, or didn't answer. */
  refused: string | null;
}

export type NewEntry = Omit<Waiting, "order" | "refused" | "studio">;
