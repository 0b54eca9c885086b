import { Marked } from "marked";
import type { Plugin } from "vite";

/** The handbook as the pages show it: its sections as HTML, made when they are built. Pictures and other documents aren't shipped. */
export function guide(): Plugin {
  return {
    name: "pondus-guide",
    transform: (text, id) =>
      id.endsWith("/docs/GUIDE.md")
        ? { code: `export default ${JSON.stringify(sections(text))};`, moduleType: "js" }
        : null,
  };
}

function sections(text: string) {
  const marked = new Marked({
    renderer: {
      image: () => "",
      link({ href, tokens }) {
        const said = this.parser.parseInline(tokens);
        return href.startsWith("#") ? `<a href="${href}">${said}</a>` : said;
      },
    },
  });
  return text
    .split(/^## /m)
    .slice(1)
    .map((section) => {
      const [title = "", ...lines] = section.split("\n");
      const id = title
        .toLowerCase()
        .replace(/[^\w -]/g, "")
        .replaceAll(" ", "-");
      return { id, title, html: marked.parse(lines.join("\n"), { async: false }) };
    });
}
