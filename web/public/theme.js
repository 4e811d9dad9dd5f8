// Before the first paint: the light the person chose, else the system's.
;(function () {
  var chosen = null
  try {
    chosen = localStorage.getItem('light')
  } catch {
    // Storage may be forbidden; the system's light will do.
  }
  var dark = window.matchMedia('(prefers-color-scheme: dark)').matches
  document.documentElement.dataset.light = chosen || (dark ? 'dusk' : 'day')
})()
