import {
  type Announcements,
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { type ReactNode, useCallback, useLayoutEffect, useRef } from "react";

/**
 * Lines that are put in order by dragging their handles, or with Space and the arrow keys on a handle.
 *
 * @param id of this list on its page
 * @param ids of its lines in order
 * @param nameOf what a line is called where it is read aloud
 */
export function Sortable({
  id,
  ids,
  nameOf,
  onMove,
  children,
}: {
  id: string;
  ids: readonly string[];
  nameOf: (id: string) => string;
  onMove: (from: number, to: number) => void;
  children: ReactNode;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const said = (one: string | number) => nameOf(String(one));
  const place = (one: string | number) => ids.indexOf(String(one)) + 1;
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${said(active.id)} is picked up.`,
    onDragOver: ({ active, over }) =>
      over ? `${said(active.id)} is at place ${place(over.id)} of ${ids.length}.` : undefined,
    onDragEnd: ({ active, over }) =>
      over ? `${said(active.id)} is put at place ${place(over.id)}.` : undefined,
    onDragCancel: ({ active }) => `${said(active.id)} is back where it was.`,
  };
  return (
    <DndContext
      id={id}
      sensors={sensors}
      accessibility={{ announcements }}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (over && active.id !== over.id) onMove(place(active.id) - 1, place(over.id) - 1);
      }}
    >
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/**
 * Draws what is dragged where the pointer has it. Set on the element: the policy of our pages allows no styles in its markup.
 *
 * @param setNodeRef tells the library which element it is
 */
export function useShifted(
  setNodeRef: (element: HTMLElement | null) => void,
  shift: { x: number; y: number } | null,
  transition?: string,
) {
  const element = useRef<HTMLElement | null>(null);
  useLayoutEffect(() => {
    const style = element.current?.style;
    if (!style) return;
    style.transform = shift ? `translate3d(${shift.x}px, ${shift.y}px, 0)` : "";
    style.transition = (shift && transition) ?? "";
  }, [shift, transition]);
  return useCallback(
    (one: HTMLElement | null) => {
      element.current = one;
      setNodeRef(one);
    },
    [setNodeRef],
  );
}

/** What a line of a `Sortable` needs: the reference of its element, and its handle. */
export function useSortableLine(id: string, name: string) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, isDragging, transform, transition } =
    useSortable({ id });
  return {
    ref: useShifted(setNodeRef, transform && { x: 0, y: transform.y }, transition),
    isDragging,
    handle: (
      <button
        type="button"
        ref={setActivatorNodeRef}
        className="handle with-scripts"
        {...attributes}
        {...listeners}
        aria-label={`Move ${name}`}
        title="Drag; or Space, then the arrow keys"
      >
        <svg width="14" height="18" viewBox="0 0 14 18" aria-hidden="true">
          {[3, 9, 15].map((y) => (
            <line
              key={y}
              x1="1"
              x2="13"
              y1={y}
              y2={y}
              className="stroke-current"
              strokeWidth="1.8"
              strokeLinecap="round"
            />
          ))}
        </svg>
      </button>
    ),
  };
}
