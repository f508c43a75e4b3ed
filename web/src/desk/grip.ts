/** Makes a button that stands at a place on the measure movable: dragged, or by arrow keys. */
export interface Grip {
  /** Where it stands, in points. */
  at: number;
  /** Pixels for each point. */
  points: number;
  /** Shows it at another place. */
  move: (at: number) => void;
  /** Saves where it was moved to: when it is let go, a while after the last arrow key, or when the focus goes. */
  save: () => void;
}

const STEP = 2; // points by an arrow key
const PAUSE = 400; // milliseconds after the last arrow key until the place is saved

/** A place in points as it is saved: to half a point. */
export const toHalfPoint = (at: number) => Math.round(at * 2) / 2;

/** Millimetres of points, as they are shown. */
export const millimetres = (points: number) => Math.round((points * 25.4) / 72);

export function grip(button: HTMLElement, options: Grip) {
  let held: { x: number; from: number } | null = null;
  let unsaved = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  function move(at: number) {
    unsaved = true;
    options.move(at);
  }

  function save() {
    clearTimeout(timer);
    if (unsaved) options.save();
    unsaved = false;
  }

  function grabbed(event: PointerEvent) {
    event.preventDefault();
    button.setPointerCapture(event.pointerId);
    held = { x: event.clientX, from: options.at };
  }

  function dragged(event: PointerEvent) {
    if (held) move(held.from + (event.clientX - held.x) / options.points);
  }

  function dropped() {
    held = null;
    save();
  }

  function pressed(event: KeyboardEvent) {
    if (event.altKey || event.ctrlKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
    clearTimeout(timer);
    move(options.at + (event.key === 'ArrowLeft' ? -STEP : STEP));
    event.preventDefault();
    event.stopPropagation();
  }

  function released() {
    clearTimeout(timer);
    timer = setTimeout(save, PAUSE);
  }

  button.addEventListener('pointerdown', grabbed);
  button.addEventListener('pointermove', dragged);
  button.addEventListener('pointerup', dropped);
  button.addEventListener('pointercancel', dropped);
  button.addEventListener('keydown', pressed);
  button.addEventListener('keyup', released);
  button.addEventListener('blur', save);
  return {
    update: (next: Grip) => void (options = next),
    destroy: save,
  };
}
