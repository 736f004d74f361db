import { agreementFigures } from "#core/agreement/agreement-figures.ts";
import type { MatchedUnits } from "#core/agreement/match-observers.ts";
import { readCsv } from "#core/files/csv.ts";
import { InputError } from "#core/files/input-error.ts";

type Pair = [string, string];

const number = ([first, second]: Pair): [number, number] => [Number(first), Number(second)];
const kinds: Record<string, { wants: RegExp; what: string; units: (pairs: Pair[]) => MatchedUnits }> = {
  count: {
    wants: /^\d+$/,
    what: "a whole number of at least 0",
    units: (pairs) => ({ kind: "count", pairs: pairs.map(number), windowSeconds: null }),
  },
  interval: {
    wants: /^[01]$/,
    what: "0 or 1",
    units: (pairs) => ({ kind: "interval", pairs: pairs as ["0" | "1", "0" | "1"][] }),
  },
  trial: { wants: /./, what: "a label", units: (pairs) => ({ kind: "trial", pairs }) },
  duration: {
    wants: /^\d+(\.\d+)?$/,
    what: "a number of seconds of at least 0",
    units: (pairs) => ({ kind: "duration", pairs: pairs.map(number) }),
  },
};

/** `figures agreement`: a CSV of what two observers gave each unit in; the agreement of each record out. */
export function figuresAgreement(text: string, { json }: { json: boolean }): string {
  const records = new Map<string, { kind: string; pairs: Pair[] }>();
  for (const { cells, line, empty } of readCsv(text, ["record", "kind", "unit", "first", "second"])) {
    if (empty) continue;
    const cell = (name: string) => (cells[name] ?? "").trim();
    const [record, kind] = [cell("record"), cell("kind")];
    if (record === "") throw new InputError(line, "record is empty");
    const known = Object.hasOwn(kinds, kind) ? kinds[kind] : undefined;
    if (!known)
      throw new InputError(
        line,
        `kind ${kind || "is empty"}${kind ? " is none of count, interval, trial, duration" : ""}`,
      );
    for (const observer of ["first", "second"]) {
      const value = cell(observer);
      if (value === "") throw new InputError(line, `${observer} is empty`);
      if (!known.wants.test(value)) throw new InputError(line, `${observer} ${value} is not ${known.what}`);
    }
    const before = records.get(record);
    if (before && before.kind !== kind) throw new InputError(line, `kind differs within record ${record}`);
    const one = before ?? { kind, pairs: [] };
    one.pairs.push([cell("first"), cell("second")]);
    records.set(record, one);
  }
  const made = [...records].map(([record, { kind, pairs }]) => {
    const units = kinds[kind]?.units(pairs);
    const figures = Object.entries(units ? agreementFigures(units) : {});
    const why = figures.flatMap(([name, { why }]) => (why === undefined ? [] : [[name, why] as const]));
    return {
      record,
      kind,
      units: pairs.length,
      values: Object.fromEntries(figures.map(([name, { value }]) => [name, value])),
      why: why.length > 0 ? Object.fromEntries(why) : undefined,
      figures,
    };
  });
  if (json)
    return `${JSON.stringify({ records: made.map(({ record, kind, units, values, why }) => ({ record, kind, units, ...values, why })) }, null, 2)}\n`;
  return made
    .map(({ record, kind, units, figures }) => {
      const said = figures.map(([name, { value, why }]) => {
        const shown =
          value === null ? `– (${why})` : name === "kappa" ? value.toFixed(2) : `${value.toFixed(1)}%`;
        return `${name} ${shown}`;
      });
      return `${record}: ${kind}, ${units} ${units === 1 ? "unit" : "units"}; ${said.join("; ")}\n`;
    })
    .join("");
}
