/** After a link the focus is on the heading of the page it led to, so that keys and screen readers go on from there. */
import type { Router } from 'vue-router'

/** So long a page may take to say what it is [ms]. */
const PATIENCE = 10_000
let leave: (() => void) | null = null

function toHeading(): void {
  leave?.()
  // A page that is still being fetched is about to give its heading, and the focus on it, away.
  const heading = () => document.querySelector<HTMLElement>('main:not([aria-busy]) h1')
  const seen = new MutationObserver(() => take())
  const away = () => {
    seen.disconnect()
    clearTimeout(late)
    for (const kind of ['keydown', 'pointerdown'] as const) removeEventListener(kind, away, true)
    leave = null
  }
  const late = setTimeout(away, PATIENCE)
  // Whoever goes on by hand is not called back.
  for (const kind of ['keydown', 'pointerdown'] as const) addEventListener(kind, away, true)
  leave = away
  function take(): void {
    const at = heading()
    if (!at) return
    away()
    // What the page itself put the focus on stays in hand.
    if (document.activeElement?.closest('main')) return
    at.tabIndex = -1
    at.focus({ preventScroll: true })
  }
  // The menu or list that led here closes first, and has the focus back.
  setTimeout(() => {
    if (leave !== away) return
    seen.observe(document.body, { childList: true, subtree: true })
    take()
  }, 60)
}

export function headingsAfter(router: Router): void {
  router.afterEach((to, from, failed) => {
    if (!failed && from.matched.length && to.path !== from.path) toHeading()
  })
}
