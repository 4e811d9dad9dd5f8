import { createRouter, createWebHistory } from 'vue-router'
import { headingsAfter } from '@/app/heading'
import Yard from '@/yard/Yard.vue'

/** The stages of the work line, in the order in which people work. */
export const STAGES = ['rig', 'weighing', 'targets', 'air', 'rounds', 'lookback', 'ground'] as const

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (to, from, saved) => saved ?? (to.path === from.path ? undefined : { top: 0 }),
  routes: [
    { path: '/', name: 'yard', meta: { title: 'The Yard' }, component: Yard },
    {
      path: '/rigs/new',
      name: 'rig-new',
      meta: { title: 'Add a rig', needs: 'rigs', what: 'add rigs' },
      component: () => import('@/rigs/RigForm.vue'),
      props: (route) => ({ copy: Number(route.query.like) || undefined }),
    },
    {
      path: '/rigs/:id(\\d+)',
      component: () => import('@/rigs/RigFrame.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
      children: [
        { path: '', name: 'rig', meta: { title: 'Rig' }, component: () => import('@/rigs/RigStage.vue') },
        {
          path: 'weighing',
          name: 'weighing',
          meta: { title: 'Weigh' },
          component: () => import('@/weighing/WeighStage.vue'),
        },
        {
          path: 'weighing/what-if',
          name: 'what-if',
          meta: { title: 'What if' },
          component: () => import('@/weighing/WhatIfStage.vue'),
        },
        {
          path: 'weighing/drift',
          name: 'drift',
          meta: { title: 'Drift' },
          component: () => import('@/weighing/DriftStage.vue'),
        },
        {
          path: 'targets',
          name: 'targets',
          meta: { title: 'Target' },
          component: () => import('@/targets/TargetStage.vue'),
        },
        { path: 'air', name: 'air', meta: { title: 'Air' }, component: () => import('@/air/AirStage.vue') },
        {
          path: 'air/trip',
          name: 'trip',
          meta: { title: 'Trip' },
          component: () => import('@/air/TripStage.vue'),
        },
        {
          path: 'air/warm',
          name: 'warm',
          meta: { title: 'Warm or elsewhere' },
          component: () => import('@/air/WarmStage.vue'),
        },
        {
          path: 'air/readings',
          name: 'readings',
          meta: { title: 'Readings' },
          component: () => import('@/air/ReadingsStage.vue'),
        },
        {
          path: 'rounds',
          name: 'rounds',
          meta: { title: 'Round' },
          component: () => import('@/rounds/RoundStage.vue'),
        },
        {
          path: 'lookback',
          name: 'lookback',
          meta: { title: 'Look back' },
          component: () => import('@/lookback/LookbackStage.vue'),
        },
        {
          path: 'lookback/morning',
          name: 'morning-rig',
          meta: { title: 'This morning' },
          component: () => import('@/lookback/MorningStage.vue'),
        },
        {
          path: 'targets/chalk',
          name: 'chalk',
          meta: { title: 'Chalk trial' },
          component: () => import('@/refine/ChalkStage.vue'),
        },
        {
          path: 'targets/wear',
          name: 'wear',
          meta: { title: 'Wear and rotation' },
          component: () => import('@/refine/WearStage.vue'),
        },
        {
          path: 'targets/sensors',
          name: 'sensors',
          meta: { title: 'Sensors and alarms' },
          component: () => import('@/sensors/SensorsStage.vue'),
        },
        {
          path: 'targets/drive',
          name: 'drive',
          meta: { title: 'Drive' },
          component: () => import('@/sensors/DriveStage.vue'),
        },
        {
          path: 'targets/lamp',
          name: 'lamp',
          meta: { title: 'The lamp came on' },
          component: () => import('@/sensors/LampStage.vue'),
        },
        {
          path: 'ground',
          name: 'ground',
          meta: { title: 'Ground' },
          component: () => import('@/ground/GroundStage.vue'),
        },
        {
          path: 'ground/kit',
          name: 'kit',
          meta: { title: 'Kit and valves' },
          component: () => import('@/ground/KitStage.vue'),
        },
        {
          path: 'lookback/rounds/:round(\\d+)',
          name: 'sealed',
          meta: { title: 'Sealed round' },
          component: () => import('@/lookback/SealedRound.vue'),
          props: (route) => ({ round: Number(route.params.round) }),
        },
      ],
    },
    {
      path: '/rigs/:id(\\d+)/edit',
      name: 'rig-edit',
      meta: { title: 'Change a rig', needs: 'rigs', what: 'change rigs' },
      component: () => import('@/rigs/RigForm.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/rigs/:id(\\d+)/card',
      name: 'card',
      meta: { title: 'Pressure card' },
      component: () => import('@/card/CardView.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/rigs/import',
      name: 'rig-import',
      meta: { title: 'Bring rigs', needs: 'rigs', what: 'add rigs' },
      component: () => import('@/rigs/ImportRigs.vue'),
    },
    {
      path: '/day',
      name: 'day',
      meta: { title: 'Your day' },
      component: () => import('@/assignments/DayPage.vue'),
    },
    {
      path: '/schedule',
      name: 'schedule',
      meta: { title: 'What is due' },
      component: () => import('@/schedule/SchedulePage.vue'),
    },
    {
      path: '/report',
      name: 'report',
      meta: { title: 'The month' },
      component: () => import('@/report/ReportPage.vue'),
    },
    {
      path: '/checks',
      name: 'checks',
      meta: { title: 'Checks' },
      component: () => import('@/lookback/ChecksPage.vue'),
    },
    {
      path: '/earlier',
      name: 'earlier',
      meta: { title: 'Earlier readings' },
      component: () => import('@/lookback/EarlierPage.vue'),
    },
    {
      path: '/people/:person(\\d+)',
      name: 'person',
      meta: { title: 'What somebody did' },
      component: () => import('@/accounts/PersonPage.vue'),
      props: (route) => ({ person: Number(route.params.person) }),
    },
    {
      path: '/morning',
      name: 'morning',
      meta: { title: 'This morning' },
      component: () => import('@/lookback/Morning.vue'),
    },
    {
      path: '/tires',
      name: 'tires',
      meta: { title: 'All tires' },
      component: () => import('@/refine/TireList.vue'),
    },
    {
      path: '/tires/:tire(\\d+)',
      name: 'tire',
      meta: { title: 'Tire' },
      component: () => import('@/refine/TireSheet.vue'),
      props: (route) => ({ tire: Number(route.params.tire) }),
    },
    {
      path: '/gauges/:gauge(\\d+)',
      name: 'gauge',
      meta: { title: 'Gauge' },
      component: () => import('@/gauges/GaugeSheet.vue'),
      props: (route) => ({ gauge: Number(route.params.gauge) }),
    },
    {
      path: '/gauges',
      name: 'gauges',
      meta: { title: 'Gauges and inflators' },
      component: () => import('@/gauges/GaugeDrawer.vue'),
    },
    {
      path: '/surfaces',
      name: 'surfaces',
      meta: { title: 'Surfaces' },
      component: () => import('@/ground/SurfacesPage.vue'),
    },
    {
      path: '/tables',
      name: 'tables',
      meta: { title: 'Load-inflation tables' },
      component: () => import('@/tables/TableLibrary.vue'),
    },
    {
      path: '/tables/import',
      name: 'table-import',
      meta: { title: 'Bring tables', needs: 'tables', what: 'enter tables' },
      component: () => import('@/tables/ImportTables.vue'),
    },
    {
      path: '/tables/new',
      name: 'table-new',
      meta: { title: 'Enter a table', needs: 'tables', what: 'enter tables' },
      component: () => import('@/tables/TableForm.vue'),
    },
    {
      path: '/practice',
      name: 'practice',
      meta: { title: 'Practice' },
      component: () => import('@/practice/PracticePage.vue'),
    },
    {
      path: '/units',
      name: 'units',
      meta: { title: 'Units' },
      component: () => import('@/accounts/UnitsPage.vue'),
    },
    { path: '/join', name: 'join', meta: { title: 'Come aboard' }, component: () => import('@/accounts/Join.vue') },
    {
      path: '/you',
      name: 'you',
      meta: { title: 'Sign-in' },
      component: () => import('@/accounts/YouPage.vue'),
    },
    {
      path: '/people',
      name: 'people',
      meta: { title: 'People and settings' },
      component: () => import('@/accounts/People.vue'),
    },
    {
      path: '/:rest(.*)',
      name: 'nowhere',
      meta: { title: 'Nothing here' },
      component: () => import('@/shared/Nowhere.vue'),
    },
  ],
})

/** Every page has its own title; the frame of a rig puts the rig's name before it. */
router.afterEach((to) => (document.title = `${String(to.meta.title)} · Gentle Ballast`))
headingsAfter(router)
