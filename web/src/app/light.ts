import { ref } from 'vue'

type Light = 'day' | 'dusk'

export const light = ref<Light>(document.documentElement.dataset.light === 'dusk' ? 'dusk' : 'day')

export function switchLight(): void {
  light.value = light.value === 'day' ? 'dusk' : 'day'
  document.documentElement.dataset.light = light.value
  try {
    localStorage.setItem('light', light.value)
  } catch {
    // Storage may be forbidden; the light then lasts as long as the page.
  }
}
