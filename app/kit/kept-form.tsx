import { type ComponentProps, useEffect, useEffectEvent, useRef, useState } from "react";
import { Form, useActionData, useLocation } from "react-router";
import { useAwake } from "#app/ui/use-awake.ts";
import { Continued } from "./continued.tsx";
import { draftField, forgetDraft, keepDraft, readDraft } from "./tab-draft.ts";

type Control = HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement;

/** The controls that a person types or chooses in: what the server made (ids, revisions) is never a draft. */
const controlsOf = (form: HTMLFormElement): Control[] =>
  [...form.elements].filter(
    (one): one is Control =>
      /^(INPUT|SELECT|TEXTAREA)$/.test(one.tagName) &&
      (one as Control).name !== "" &&
      !/^(hidden|password|file|submit)$/.test((one as Control).type),
  );

const isTick = (control: Control): control is HTMLInputElement =>
  control.type === "checkbox" || control.type === "radio";
/** Ticks share a name: each is stored by its value too. */
const keyOf = (control: Control) => (isTick(control) ? `${control.name}=${control.value}` : control.name);
const valueOf = (control: Control) => (isTick(control) ? (control.checked ? "on" : "") : control.value);

/** Sets a control as if it had been typed, so that a page that listens to its fields hears of it. */
function type(control: Control, value: string): void {
  if (isTick(control)) return control.click();
  const holder = Object.getPrototypeOf(control) as object;
  Object.getOwnPropertyDescriptor(holder, "value")?.set?.call(control, value);
  control.dispatchEvent(new Event(control.tagName === "SELECT" ? "change" : "input", { bubbles: true }));
}

/** Puts what was stored into the controls that are there. Answers whether anything was put, and whether something found no place. */
function putBack(form: HTMLFormElement, left: Readonly<Record<string, unknown>>) {
  const controls = new Map(controlsOf(form).map((control) => [keyOf(control), control]));
  let any = false;
  for (const [key, control] of controls) {
    const value = left[key];
    if (typeof value !== "string" || value === valueOf(control)) continue;
    // A radio is let go by choosing another one.
    if (control.type === "radio" && value === "") continue;
    type(control, value);
    any = true;
  }
  return { any, isWhole: Object.keys(left).every((key) => left[key] === "" || controls.has(key)) };
}

/**
 * A form whose fields are stored for this tab as they are typed, and stand in it again after a reload, a wrong turn, the end of a
 * session or an error; `keepTypedOffline` deletes the draft once the form is saved.
 *
 * @param draft tells the forms of one page from each other
 * @param onMissing asks the page for one more row, where the draft had more than the page shows
 */
export function KeptForm({
  draft,
  onMissing,
  children,
  onInput,
  ...form
}: ComponentProps<typeof Form> & { draft: string; onMissing?: () => void }) {
  const { pathname } = useLocation();
  const name = `${pathname} ${draft}`;
  const element = useRef<HTMLFormElement>(null);
  const [continued, setContinued] = useState<string | null>(null);
  const [tries, setTries] = useState(0);
  // What the server gave back is what was typed, read as it read it.
  const cameBack = useActionData<{ typed?: object }>()?.typed !== undefined;
  // The frame has cleared away by then what another person left in this tab.
  const awake = useAwake();
  const restore = useEffectEvent(() => {
    const left = readDraft(name);
    if (cameBack || !element.current || typeof left !== "object" || left === null) return;
    const { any, isWhole } = putBack(element.current, left as Record<string, unknown>);
    // What was put back was stored as it was typed, without the rows that are not there yet: they come next.
    if (any && !isWhole) keepDraft(name, left);
    if (any) {
      setContinued(name);
      element.current.closest("details")?.setAttribute("open", "");
    }
    if (isWhole || !onMissing || tries >= 40) return;
    onMissing();
    setTries(tries + 1);
  });
  // Once for a name, and once more for each row that was missing.
  useEffect(() => {
    if (awake) restore();
  }, [name, tries, awake]);
  return (
    <Form
      {...form}
      ref={element}
      onInput={(event) => {
        onInput?.(event);
        const controls = controlsOf(event.currentTarget);
        keepDraft(name, Object.fromEntries(controls.map((control) => [keyOf(control), valueOf(control)])));
      }}
    >
      {continued === name ? (
        <Continued
          startOver={() => {
            forgetDraft(name);
            location.reload();
          }}
        />
      ) : null}
      <input type="hidden" name={draftField} value={name} />
      {children}
    </Form>
  );
}
