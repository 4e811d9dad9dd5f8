/** Dragging something on a drawing by mouse or finger; keys move it as well, elsewhere. */
export function useDrag<T>(meters: (event: PointerEvent) => { x: number; y: number }) {
  let held: { what: T; move: (what: T, at: { x: number; y: number }) => void } | null = null

  function take(event: PointerEvent, what: T, move: (what: T, at: { x: number; y: number }) => void) {
    held = { what, move }
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  }
  function drag(event: PointerEvent) {
    if (held) held.move(held.what, meters(event))
  }
  function drop() {
    held = null
  }
  return { take, drag, drop }
}
