/** Asked again soon, while something of an answer is still worked out anew [ms]; else not. */
export const whileAnew = (anew: number | undefined) => (anew ? 1500 : false)

/** Once what changed by now is on the screen: for what is not looked at first. */
export const afterPaint = (run: () => void) => requestAnimationFrame(() => setTimeout(run))
