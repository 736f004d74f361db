import type { JotCategory } from "#core/model/jot.ts";

/** What a jot is about, and the level of it: levels are read with what they mean, the lowest first. */
export function CategoryChoice({
  categories,
  categoryId,
  levelId,
  own,
  onChange,
}: {
  categories: readonly JotCategory[];
  categoryId: string | null;
  levelId: string | null;
  own: boolean;
  onChange: (part: { categoryId?: string | null; levelId?: string | null; own?: boolean }) => void;
}) {
  const chosen = categories.find((one) => one.categoryId === categoryId);
  if (categories.length === 0) return null;
  return (
    <section aria-label="Category" className="grid gap-3">
      <div role="group" aria-label="Category" className="flex flex-wrap gap-1.5">
        {categories.map((category) => (
          <button
            key={category.categoryId}
            type="button"
            className="choice"
            aria-pressed={category.categoryId === categoryId}
            onClick={() =>
              onChange({
                categoryId: category.categoryId === categoryId ? null : category.categoryId,
                ...{ levelId: null, own: false },
              })
            }
          >
            {category.name}
          </button>
        ))}
      </div>
      {chosen && chosen.levels.length > 0 ? (
        <div>
          <ol aria-label={`Level of ${chosen.name}`} className="border-t border-base-300">
            {chosen.levels.map(({ levelId: id, name, meaning }, at) => (
              <li key={id} className="border-b border-base-300">
                <button
                  type="button"
                  className="jot-level"
                  aria-pressed={id === levelId}
                  onClick={() => onChange({ levelId: id === levelId ? null : id })}
                >
                  <span className="jot-step">{at + 1}</span>
                  <span>
                    <span className="font-bold">{name}</span>
                    {meaning ? <span className="block text-fine text-soft">{meaning}</span> : null}
                  </span>
                </button>
              </li>
            ))}
          </ol>
          <label className="mt-1 flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-primary"
              checked={own}
              onChange={({ target }) => onChange({ own: target.checked })}
            />
            The student’s own rating
          </label>
        </div>
      ) : null}
    </section>
  );
}
