import { useMediaQuery } from '@vueuse/core'

/** Room for more than one column: where the styles say `lg`. */
export const useWide = () => useMediaQuery('(min-width: 64rem)')
