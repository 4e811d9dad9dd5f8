import { answer, api } from '@/shared/api/client'

export const yard = {
  queryKey: ['yard'],
  queryFn: () => answer(api.GET('/api/v1/yard')),
}
