import { numberPattern as n, readNumber } from "./numbers.ts";
import { findAll, mask, type Span, type WorkingText } from "./working-text.ts";

/**
 * The percentage that is written, in digits or words; never one computed from counts. Of several, the one of accuracy, else
 * the last; of a range, its lower end.
 */
export function readPercent(text: WorkingText): {
  percent: { value: number; span: Span } | null;
  rest: WorkingText;
} {
  const found = findAll(
    text,
    new RegExp(`(?<low>${n})(?: ?%)?(?:(?: ?- ?| to | or )${n})? ?(?:%|percent\\b|per cent\\b)`),
  );
  const rest = found.reduce((masked, { span }) => mask(masked, span), text);
  const ofAccuracy = found.filter(({ span }) =>
    /^ ?(?:or (?:better|higher|greater|more|above) )?(?:[a-z]+ )?(?:accuracy|accurate|accurately|correct)/.test(
      text.slice(span[1]),
    ),
  );
  const chosen = ofAccuracy.at(-1) ?? found.at(-1);
  return {
    percent: chosen ? { value: readNumber(chosen.groups["low"] ?? ""), span: chosen.span } : null,
    rest,
  };
}
