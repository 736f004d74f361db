import { fileEpisodes, readIncidents, watchedOf } from "#core/files/read-incidents.ts";
import { whatStandsOut } from "#core/incidents/findings.ts";
import { findingsEn } from "#core/words/en/findings.ts";

const nothingWords = { "too-few": findingsEn.tooFew(), none: findingsEn.nothing() };

/** `figures findings`: a CSV of ABC records in; what stands out, in the order and the words of the page, out. */
export function figuresFindings(text: string, { json, file }: { json: boolean; file?: string }): string {
  const read = readIncidents(text);
  const { n, episodes, findings, nothing } = whatStandsOut(watchedOf(read));
  const said = findings.map(({ kind, strength, labels, both, adjustedP, words }) => ({
    ...{ kind, strength, labels, both, adjustedP, words },
  }));
  const made = { ...(file === undefined ? {} : { file }), n, episodes, findings: said, nothing };
  if (json) return file === undefined ? `${JSON.stringify(made, null, 2)}\n` : `${JSON.stringify(made)}\n`;
  return [
    `${file === undefined ? "" : `${file}: `}${n} incidents in ${fileEpisodes(read).length} episodes`,
    ...said.map(({ strength, words }) => `  ${strength}: ${words}`),
    ...(nothing ? [`  ${nothingWords[nothing]}`] : []),
    "",
  ].join("\n");
}
