/** A column of a table of rows. */
export interface Column<T> {
  id: string;
  title: string;
  /** What it is sorted by and found by; left out for columns of buttons. */
  value?: (row: T) => string | number | null;
  /** Tailwind classes of its width: "w-40"; of a narrow table also where it shows: "hidden sm:table-cell". */
  width?: string;
  /** Its title is heard, and not seen: of buttons that say themselves what they do. */
  quiet?: boolean;
  /** May be switched off. */
  optional?: boolean;
}

/** How somebody has a table: kept by its name in their browser. */
export interface Arranged {
  sorting: { id: string; desc: boolean }[];
  hidden: string[];
}

const keyOf = (name: string) => `playa.table.${name}`;

export function arrangedAs(name: string): Arranged {
  try {
    const kept = JSON.parse(localStorage.getItem(keyOf(name)) ?? '{}') as Partial<Arranged>;
    return { sorting: kept.sorting ?? [], hidden: kept.hidden ?? [] };
  } catch {
    return { sorting: [], hidden: [] };
  }
}

export const keepArranged = (name: string, arranged: Arranged): void =>
  localStorage.setItem(keyOf(name), JSON.stringify(arranged));
