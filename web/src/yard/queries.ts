import { answer, api } from '@/shared/api/client'
import { kept } from '@/shared/kept'

export const yard = {
  queryKey: ['yard'],
  queryFn: () => kept('yard', () => answer(api.GET('/api/v1/yard'))),
}
