/** `v-scrolls`: a part that scrolls by itself is reached by keyboard, as long as it has something to scroll. */
import type { Directive } from 'vue'

const watched = new WeakMap<HTMLElement, ResizeObserver>()

function settle(part: HTMLElement, label: string) {
  const scrolls = part.scrollWidth > part.clientWidth + 1 || part.scrollHeight > part.clientHeight + 1
  if (scrolls && !part.hasAttribute('tabindex')) {
    part.tabIndex = 0
    part.setAttribute('role', 'group')
    part.setAttribute('aria-label', label)
  } else if (!scrolls && part.hasAttribute('tabindex'))
    for (const name of ['tabindex', 'role', 'aria-label']) part.removeAttribute(name)
}

export const scrolls: Directive<HTMLElement, string | undefined> = {
  mounted(part, { value }) {
    const label = value ?? part.querySelector('caption')?.textContent?.trim() ?? 'A table that scrolls'
    const observer = new ResizeObserver(() => settle(part, label))
    observer.observe(part)
    for (const child of part.children) observer.observe(child)
    watched.set(part, observer)
  },
  unmounted(part) {
    watched.get(part)?.disconnect()
  },
}
