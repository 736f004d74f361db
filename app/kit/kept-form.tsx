import {
  type ComponentProps,
  createContext,
  useContext,
  useEffect,
  useEffectEvent,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { Form, useActionData, useLocation, useNavigation } from "react-router";
import { useAwake } from "#app/ui/use-awake.ts";
import { Continued } from "./continued.tsx";
import { draftField, forgetDraft, keepDraft, readDraft } from "./tab-draft.ts";

type Control = HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement;

interface Kept {
  /** What the draft of the form is called; null outside such a form. */
  name: string | null;
  /** How often the form was sent, and saved, since it is shown. */
  sends: number;
  saves: number;
  /** Was something changed since? */
  isTouched: boolean;
  touch: () => void;
  /** Says that a part of the form continues a draft of its own. */
  goesOn: () => void;
}
const nothing = () => undefined;
const KeptContext = createContext<Kept>({
  ...{ name: null, sends: 0, saves: 0, isTouched: false, touch: nothing, goesOn: nothing },
});
/** The form around: what its draft is called, and whether it is saved. */
export const useKeptForm = (): Kept => useContext(KeptContext);

/** Rows in any order keep a draft of their own: they bear this attribute. */
export const ownDraft = { "data-own-draft": true } as const;

/** The controls that a person types or chooses in: what the server made (ids, revisions) is never a draft. */
const controlsOf = (form: HTMLFormElement): Control[] =>
  [...form.elements].filter(
    (one): one is Control =>
      /^(INPUT|SELECT|TEXTAREA)$/.test(one.tagName) &&
      (one as Control).name !== "" &&
      !/^(hidden|password|file|submit)$/.test((one as Control).type) &&
      !one.closest("[data-own-draft]"),
  );

/** Is it ticked rather than written in? */
export const isTick = (control: Control): control is HTMLInputElement =>
  control.type === "checkbox" || control.type === "radio";
/** Ticks share a name: each is stored by its value too. */
const keyOf = (control: Control) => (isTick(control) ? `${control.name}=${control.value}` : control.name);
const valueOf = (control: Control) => (isTick(control) ? (control.checked ? "on" : "") : control.value);

/** Sets a control as if it had been typed, so that a page that listens to its fields hears of it. */
export function type(control: Control, value: string): void {
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

/** The control that had the focus in a form that is just being drawn anew. */
let focused: [form: string, control: string] | null = null;

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
  useLayoutEffect(() => {
    const form = element.current;
    if (form && focused?.[0] === name) (form.elements.namedItem(focused[1]) as HTMLElement | null)?.focus?.();
    return () => {
      const { activeElement } = document;
      if (!form?.contains(activeElement)) return;
      // In the same step a form takes the place of this one, or none does.
      focused = [name, (activeElement as Control).name];
      queueMicrotask(() => (focused = null));
    };
  }, [name]);
  const answer = useActionData<{ typed?: object; problems?: object }>();
  // What the server gave back is what was typed, read as it read it.
  const cameBack = answer?.typed !== undefined;
  // What is typed while the form is on its way is not part of what is saved.
  const [touches, setTouches] = useState({ now: 0, sent: 0, saved: 0 });
  const [[sends, saves], setCounts] = useState([0, 0]);
  const [isSent, setSent] = useState(false);
  const isTouched = touches.now !== touches.saved;
  const navigation = useNavigation();
  if (navigation.state !== "idle" && navigation.formData?.get(draftField) === name) {
    if (!isSent) {
      setSent(true);
      setCounts([sends + 1, saves]);
      setTouches({ ...touches, sent: touches.now });
    }
  } else if (navigation.state === "idle" && isSent) {
    setSent(false);
    if (!answer?.problems) {
      setCounts([sends, saves + 1]);
      setTouches({ ...touches, saved: touches.sent });
      setContinued(null);
    }
  }
  const kept = useMemo(() => {
    const touch = () => setTouches((before) => ({ ...before, now: before.now + 1 }));
    return {
      ...{ name, sends, saves, isTouched, touch },
      goesOn: () => {
        setContinued(name);
        touch();
      },
    };
  }, [name, sends, saves, isTouched]);
  // The frame has cleared away by then what another person left in this tab.
  const awake = useAwake();
  // A browser that fills a form after a reload says so as if it were typed: what was stored is looked for before it is written over.
  const looked = useRef("");
  const restore = useEffectEvent(() => {
    looked.current = name;
    const left = readDraft(name);
    if (cameBack || !element.current || typeof left !== "object" || left === null) return;
    const { any, isWhole } = putBack(element.current, left as Record<string, unknown>);
    // What was put back was stored as it was typed, without the rows that are not there yet: they come next.
    if (any && !isWhole) keepDraft(name, left);
    if (any) {
      kept.goesOn();
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
        kept.touch();
        if (looked.current !== name) return;
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
      <KeptContext value={kept}>{children}</KeptContext>
    </Form>
  );
}
