/** A choice among the school's own names, or none of them. */
export function NameSelect({
  names,
  value,
  onChoose,
}: {
  names: readonly string[];
  value: string;
  onChoose: (name: string) => void;
}) {
  return (
    <select
      className="select h-11 w-full min-w-28 font-normal"
      value={value}
      onChange={({ target }) => onChoose(target.value)}
    >
      <option value="">Not recorded</option>
      {names.map((name) => (
        <option key={name}>{name}</option>
      ))}
    </select>
  );
}
