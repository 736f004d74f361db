import type { RatersTable } from "#core/report/document.ts";

/** What several people gave the same work: a column for each, the days that two or more rated, how far they agree and their mean. */
export function RatersColumns({ table: { label, columns, rows, sentence } }: { table: RatersTable }) {
  return (
    <div className="report-raters">
      <div className="overflow-x-auto" role="group" aria-label={label} tabIndex={0}>
        <table>
          <caption>{label}</caption>
          <thead>
            <tr>
              <td />
              {columns.map(({ name, about }) => (
                <th key={name} scope="col">
                  <span dir="auto">{name}</span>
                  <span className="report-by block font-normal">{about}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ day, cells }) => (
              <tr key={day}>
                <th scope="row">{day}</th>
                {cells.map((cell, at) => (
                  <td key={columns[at]?.name ?? at} dir="auto">
                    {cell ?? "–"}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-1 leading-relaxed">{sentence}</p>
    </div>
  );
}
