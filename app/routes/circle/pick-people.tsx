import { useState } from "react";

const fold = (text: string) => text.normalize("NFKD").replace(/\p{M}/gu, "").toLocaleLowerCase();

/** People to be ticked, several at once. Typing shows those whose name or position has the words; Enter ticks the first. */
export function PickPeople({
  people,
  problem,
}: {
  people: readonly { personId: string; name: string; position: string }[];
  problem: string | undefined;
}) {
  const [words, setWords] = useState("");
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const wanted = fold(words).split(/\s+/).filter(Boolean);
  const isFound = (one: (typeof people)[number]) =>
    wanted.every((word) => fold(`${one.name} ${one.position}`).includes(word));
  const toggle = (personId: string) => {
    const next = new Set(ticked);
    if (!next.delete(personId)) next.add(personId);
    setTicked(next);
  };
  const found = people.filter(isFound);
  return (
    <fieldset className="min-w-0" aria-describedby={problem ? "people-says" : undefined}>
      <legend className="text-fine font-bold">Who</legend>
      <input
        type="search"
        className="input with-scripts w-full"
        aria-label="Find staff by name or position"
        placeholder="type a name or a position"
        autoComplete="off"
        value={words}
        onChange={({ target }) => setWords(target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          const first = found[0];
          if (!first) return;
          toggle(first.personId);
          setWords("");
        }}
      />
      <ul className="mt-1 max-h-56 overflow-y-auto">
        {people.map((one) => (
          <li key={one.personId} hidden={!isFound(one) && !ticked.has(one.personId)}>
            <label className="flex min-h-9 cursor-pointer items-center gap-2">
              <input
                type="checkbox"
                name="personId"
                value={one.personId}
                checked={ticked.has(one.personId)}
                aria-invalid={problem ? true : undefined}
                onChange={() => toggle(one.personId)}
              />
              <span dir="auto">
                {one.name} <span className="text-fine text-soft">{one.position}</span>
              </span>
            </label>
          </li>
        ))}
      </ul>
      {found.length === 0 ? (
        <p className="text-fine text-soft">Nobody on the staff list has these words.</p>
      ) : null}
      {problem ? (
        <p id="people-says" className="mt-1 text-fine font-bold text-error">
          {problem}
        </p>
      ) : null}
    </fieldset>
  );
}
