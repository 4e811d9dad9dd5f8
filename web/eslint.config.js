import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'

// The page's layers: app over the rooms, the rooms over shared. A room uses another through `shared`, or through a doorway.
const ROOMS = [
  'accounts',
  'air',
  'assignments',
  'card',
  'gauges',
  'ground',
  'lookback',
  'refine',
  'report',
  'rigs',
  'rounds',
  'schedule',
  'sensors',
  'tables',
  'targets',
  'weighing',
  'yard',
]
const DOORWAYS = [
  '@/assignments/Assigned.vue',
  '@/assignments/GiveRounds.vue',
  '@/assignments/queries',
  '@/rigs/frame',
  '@/rigs/queries',
  '@/rigs/NextStep.vue',
  '@/rigs/OutOfDate.vue',
  '@/rigs/TargetPages.vue',
  '@/targets/TargetsOfMany.vue',
  '@/yard/queries',
]
const closed = (folders, open = []) => ({
  'no-restricted-imports': [
    'error',
    {
      patterns: [
        {
          group: [...folders.map((f) => `@/${f}/*`), ...folders.map((f) => `../${f}/*`), ...open.map((d) => `!${d}`)],
          message: 'Use it through shared, or through a doorway: see eslint.config.js.',
        },
      ],
    },
  ],
})

export default defineConfigWithVueTs(
  { ignores: ['dist/**', 'src/shared/api/schema.d.ts'] },
  vue.configs['flat/recommended'],
  vueTsConfigs.recommended,
  prettier,
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      'max-lines': ['error', { max: 300 }],
    },
  },
  { files: ['src/rounds/RoundStage.vue'], rules: { 'max-lines': ['error', { max: 250 }] } },
  { files: ['src/shared/**'], rules: closed(['app', ...ROOMS]) },
  ...ROOMS.map((room) => ({
    files: [`src/${room}/**`],
    rules: closed(['app', ...ROOMS.filter((r) => r !== room)], DOORWAYS),
  })),
)
