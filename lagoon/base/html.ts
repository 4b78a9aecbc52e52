/** Text that is already HTML. */
export class Html {
  text: string;
  constructor(text: string) {
    this.text = text;
  }
}

type Piece = string | number | null | undefined | false | Html | Piece[];

/** Writes HTML; whatever is put in is escaped unless it is HTML already. */
export function html(strings: TemplateStringsArray, ...pieces: Piece[]): Html {
  return new Html(strings.reduce((made, part, index) => made + write(pieces[index - 1]) + part));
}

function write(piece: Piece): string {
  if (piece instanceof Html) return piece.text;
  if (Array.isArray(piece)) return piece.map(write).join('');
  if (piece === null || piece === undefined || piece === false) return '';
  return escape(String(piece));
}

export function escape(text: string): string {
  return text.replace(/[&<>"']/g, (char) => `&#${char.charCodeAt(0)};`);
}

/** Text of the audience's kind: line breaks kept, addresses made links. */
export function prose(text: string): Html {
  const linked = text
    .split(/(https?:\/\/[^\s<>"]*[^\s<>".,;:!?)])/)
    .map((part, index) =>
      index % 2 ? `<a href="${escape(part)}" rel="nofollow ugc">${escape(part)}</a>` : escape(part),
    );
  return new Html(linked.join('').replace(/\n/g, '<br>'));
}

/** Words as they are, where a service makes no links of addresses. */
export function bare(text: string): Html {
  return new Html(escape(text).replace(/\n/g, '<br>'));
}

interface PageOptions {
  service: string;
  title: string;
  head?: Html;
  person?: string | undefined;
  here?: string | undefined;
}

export function page({ service, title, head, person, here }: PageOptions, body: Html): string {
  return html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${title} · ${service}</title>
        <link rel="icon" href="data:," />
        <link rel="stylesheet" href="/style.css" />
        ${head}
      </head>
      <body>
        <header>
          <a class="name" href="/">Lagoon</a><b>${service.replace(/^Lagoon ?/, '')}</b>
          <nav>
            <a href="/">All services</a><a href="/control">Control</a>
            <a href="/sign-in?next=${encodeURIComponent(here ?? '/')}">${person ? `You are ${person}` : 'Sign in'}</a>
          </nav>
        </header>
        <main>${body}</main>
        <footer>A made-up world. Nobody here is real.</footer>
      </body>
    </html>`.text;
}

export function when(moment: number, now: number): string {
  const minutes = Math.round((now - moment) / 60_000);
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${minutes} min ago`;
  if (minutes < 24 * 60) return `${Math.round(minutes / 60)} h ago`;
  return new Date(moment).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
}
