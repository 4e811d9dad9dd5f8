<script setup lang="ts">
/** Rows of a file, each with what it says, and why it is refused. */
defineProps<{ rows: { line: number; words: string; field: string; refused: string }[] }>()
</script>

<template>
  <div v-scrolls class="relative overflow-x-auto">
    <table class="plain mt-3">
      <thead>
        <tr>
          <th class="w-16">Line</th>
          <th>What it says</th>
          <th>Refused because</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.line">
          <td class="text-soft">{{ r.line }}</td>
          <td>{{ r.words || 'not understood' }}</td>
          <td class="text-rust">
            <template v-if="r.refused"
              ><b v-if="r.field">{{ r.field }}: </b>{{ r.refused }}</template
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
