/** Who may be given a round: people who do rounds and may come in, and crews. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { crews, people, type To } from './queries'

export function useWho() {
  const { data: members } = useQuery(people)
  const { data: groups } = useQuery(crews)
  const who = computed(() => [
    ...(members.value ?? [])
      .filter((p) => p.rounds)
      .map((p) => ({ key: `m${p.id}`, name: p.name, note: p.you ? 'you' : p.role })),
    ...(groups.value ?? []).map((c) => ({ key: `c${c.id}`, name: c.name, note: `crew of ${c.members.length}` })),
  ])
  return { who, members, groups }
}

/** As the API takes who was chosen: `m7` a member, `c3` a crew. */
export const toOf = (key: string): To =>
  key.startsWith('c') ? { crew: Number(key.slice(1)), member: null } : { member: Number(key.slice(1)), crew: null }
