import type { Go, Question } from "../../api/practice";
import { asSeen, Pegbox, Tailpiece } from "../../parts/TurnDrawing";

/** What is drawn beside a question. */
export function QuestionPicture({ go, question }: { go: Go; question: Question }) {
  const { picture } = question;
  switch (picture.kind) {
    case "tuner":
      return picture.shows === null ? null : <TunerShows text={picture.shows} string={picture.string} />;
    case "strings":
      return <Strings go={go} lit={picture.string ?? ""} />;
    case "pegbox":
    case "hold":
      return (
        <figure className="flex justify-center [&_svg]:h-56">
          <Pegbox
            strings={go.strings.map((each) => ({ ...each, fine_tuner: true }))}
            current={picture.kind === "hold" ? picture.string : null}
            hold={go.hold}
            unnamed={picture.kind === "pegbox"}
          />
        </figure>
      );
    case "screw":
      return (
        <figure className="flex justify-center [&_svg]:h-56">
          <Tailpiece
            strings={go.strings.map((each) => ({ ...each, fine_tuner: true }))}
            current={picture.string}
            hold={go.hold}
          />
        </figure>
      );
    case "class":
      return <Rows rows={picture.rows} />;
    case "none":
      return null;
  }
}

/** What stands on a tuner, large; on which string. */
function TunerShows({ text, string, dim = false }: { text: string; string: string | null; dim?: boolean }) {
  const [note = text, figure] = text.split(" ");
  return (
    <figure
      aria-label={`The tuner shows ${text}`}
      className="flex items-baseline justify-center gap-4 rounded-lg border border-rule bg-sheet px-4 py-6"
    >
      {string !== null && <figcaption className="self-center text-xl text-pencil">{string} string</figcaption>}
      <span className={`text-7xl font-bold tabular-nums ${dim ? "opacity-45" : ""}`}>
        {note}
        {figure !== undefined && <span className="ml-4 text-6xl">{figure}</span>}
      </span>
    </figure>
  );
}

const HEIGHT = 190;
const GAP = 74;

/** The strings as the person sees them, the ones that are meant lit. */
function Strings({ go, lit }: { go: Go; lit: string }) {
  const seen = asSeen(go.hold, go.strings);
  const width = GAP * seen.length;
  return (
    <figure className="flex justify-center rounded-lg border border-rule bg-sheet py-3">
      <svg
        viewBox={`0 0 ${String(width)} ${String(HEIGHT)}`}
        className="h-52 w-auto max-w-full"
        role="img"
        aria-label={`Four strings, the ${seen.findIndex((each) => lit.includes(each.name)) + 1}. from the left marked`}
      >
        {seen.map((each, place) => {
          const x = GAP * (place + 0.5);
          const marked = lit.includes(each.name);
          return (
            <g key={each.name}>
              {marked && <rect x={x - 22} y={0} width={44} height={HEIGHT} rx={6} fill="var(--lit)" stroke="var(--ink)" />}
              <line
                x1={x}
                x2={x}
                y1={0}
                y2={HEIGHT}
                stroke={marked ? "var(--below)" : "var(--ink)"}
                strokeWidth={2 + each.thickness * 6}
                opacity={marked ? 1 : 0.55}
              />
            </g>
          );
        })}
        <line x1={0} x2={width} y1={HEIGHT - 40} y2={HEIGHT - 40} stroke="var(--ink)" strokeWidth={5} />
      </svg>
    </figure>
  );
}

function Rows({ rows }: { rows: Question["picture"]["rows"] }) {
  return (
    <table className="mx-auto rounded-lg border border-rule bg-sheet text-3xl">
      <tbody className="divide-y divide-rule">
        {rows.map(({ string, shows }) => (
          <tr key={string}>
            <th scope="row" className="px-6 py-2 text-left font-bold">
              {string}
            </th>
            <td className="px-6 py-2 tabular-nums">{shows}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
