/** The highest level of help that is credited, and whether it is the first of its ladder, so no help at all. */
export interface CreditedArgs {
  level: string;
  isFirst: boolean;
}

const promptKinds = /^(?:gestural|verbal|visual|model|(?:partial |full )?physical)$/;

/** "independent", "with a gestural prompt or less" */
export function creditedHelp({ level, isFirst }: CreditedArgs): string {
  if (isFirst) return level === "no prompt" ? "with no prompt" : level;
  if (promptKinds.test(level)) return `with a ${level} prompt or less`;
  if (/^(?:minimal|moderate|maximal)$/.test(level)) return `with ${level} assistance or less`;
  return /\bprompts?$/.test(level) ? `with ${level} or less` : `with “${level}” or less help`;
}
