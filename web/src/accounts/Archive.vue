<script setup lang="ts">
/** The whole workspace as one file; and, while nothing was entered here, one brought in. */
import { useQuery } from '@tanstack/vue-query'
import { nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answer, api, type Schemas } from '@/shared/api/client'
import FileField from '@/shared/FileField.vue'
import { queries, useSession } from '@/shared/session'
import { useSave } from '@/shared/useSave'

const { session, refetch } = useSession()
const { data: holds } = useQuery({
  queryKey: ['archive'],
  queryFn: () => answer(api.GET('/api/v1/archive/holds')),
})
const emit = defineEmits<{ brought: [] }>()
const section = useTemplateRef('section')
const route = useRoute()
// Who came for it has it in sight, once what it says is there.
watch(
  holds,
  async () => {
    await nextTick()
    if (route.hash === '#archive') section.value?.scrollIntoView()
  },
  { once: true },
)
const brought = ref<Schemas['Brought'] | null>(null)
const many = (n: number, one: string, more = `${one}s`) => `${n.toLocaleString('en-US')} ${n === 1 ? one : more}`
const megabytes = (bytes: number) => `${(bytes / 1e6).toLocaleString('en-US', { maximumFractionDigits: 1 })} MB`
const { save, busy, fields, message } = useSave(async (file: File) => {
  brought.value = await answer(
    api.POST('/api/v1/archive', {
      body: file as unknown as string,
      bodySerializer: (body) => body,
      headers: { 'Content-Type': 'application/zip' },
      // A large one takes minutes: nobody gives up on it by the clock.
      fetch: (request: Request) => fetch(request),
    }),
  )
  await refetch()
  await queries.invalidateQueries()
  emit('brought')
})
// What it came to stays in sight, whatever grew above.
watch([brought, message], async () => {
  await nextTick()
  section.value?.scrollIntoView({ block: 'nearest' })
})
</script>

<template>
  <section id="archive" ref="section" class="mt-8 border-t border-hairline pt-5">
    <h2>The whole workspace as one file</h2>
    <div v-if="brought" class="mt-2 max-w-2xl" role="status">
      <p>
        <b>{{ brought.workspace }} is here:</b> {{ many(brought.rigs, 'rig') }},
        {{ many(brought.rounds, 'round') }} with {{ many(brought.readings, 'reading') }},
        {{ many(brought.pictures, 'picture') }}. <RouterLink to="/">To the Yard</RouterLink>
      </p>
      <p v-if="brought.people.length" class="mt-1">
        <b>Nobody of it may come in yet: {{ brought.people.join(', ') }}.</b> Let them in above, and give each a new
        password by link. Receivers, keys and calendars are set up anew.
      </p>
    </div>
    <template v-else-if="holds">
      <template v-if="!holds.empty">
        <p class="mt-1 max-w-2xl text-soft">
          {{ many(holds.rigs, 'rig') }}, {{ many(holds.rounds, 'round') }} with {{ many(holds.readings, 'reading')
          }}<template v-if="holds.pictures"
            >, {{ many(holds.pictures, 'picture') }} ({{ megabytes(holds.pictures_size) }})</template
          >, and all that was entered with them, their history and people’s names. No password, key or secret address is
          in it. It comes into an empty workspace, here or on another server of the same version.
        </p>
        <a class="button mt-3 inline-block" href="/api/v1/archive" download>Fetch the archive</a>
      </template>
      <template v-else>
        <p class="mt-1 max-w-2xl text-soft">
          Nothing was entered in {{ session?.workspace?.name }} yet, so an archive of another workspace can come in: all
          of it or nothing, its name and settings too. Its people come as names that cannot sign in until you let them;
          what was done there under your own sign-in name counts as yours.
        </p>
        <FileField
          class="mt-3 max-w-xl"
          label="An archive (ZIP) to bring in"
          name="content"
          accept=".zip,application/zip"
          whole
          :busy="busy"
          :message="fields.content || message"
          @picked="save"
        />
      </template>
    </template>
  </section>
</template>
