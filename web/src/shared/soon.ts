/** Asked again soon, while something of an answer is still worked out anew [ms]; else not. */
export const whileAnew = (anew: number | undefined) => (anew ? 1500 : false)
