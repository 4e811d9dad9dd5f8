import { createRouter, createWebHistory } from 'vue-router'
import Yard from '@/yard/Yard.vue'

/** The stages of the work line, in the order in which people work. */
export const STAGES = ['rig', 'weighing', 'targets', 'air', 'rounds', 'lookback'] as const

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (to, from, saved) => saved ?? (to.path === from.path ? undefined : { top: 0 }),
  routes: [
    { path: '/', name: 'yard', component: Yard },
    {
      path: '/rigs/new',
      name: 'rig-new',
      component: () => import('@/rigs/RigForm.vue'),
      props: (route) => ({ copy: Number(route.query.like) || undefined }),
    },
    {
      path: '/rigs/:id(\\d+)',
      component: () => import('@/rigs/RigFrame.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
      children: [
        { path: '', name: 'rig', component: () => import('@/rigs/RigStage.vue') },
        { path: 'weighing', name: 'weighing', component: () => import('@/weighing/WeighStage.vue') },
        { path: 'weighing/what-if', name: 'what-if', component: () => import('@/weighing/WhatIfStage.vue') },
        { path: 'weighing/drift', name: 'drift', component: () => import('@/weighing/DriftStage.vue') },
        { path: 'targets', name: 'targets', component: () => import('@/targets/TargetStage.vue') },
        { path: 'air', name: 'air', component: () => import('@/air/AirStage.vue') },
        { path: 'air/trip', name: 'trip', component: () => import('@/air/TripStage.vue') },
        { path: 'air/warm', name: 'warm', component: () => import('@/air/WarmStage.vue') },
        { path: 'air/readings', name: 'readings', component: () => import('@/air/ReadingsStage.vue') },
        { path: 'rounds', name: 'rounds', component: () => import('@/rounds/RoundStage.vue') },
        { path: 'lookback', name: 'lookback', component: () => import('@/lookback/LookbackStage.vue') },
        {
          path: 'lookback/morning',
          name: 'morning-rig',
          component: () => import('@/lookback/MorningStage.vue'),
        },
        {
          path: 'lookback/rounds/:round(\\d+)',
          name: 'sealed',
          component: () => import('@/lookback/SealedRound.vue'),
          props: (route) => ({ round: Number(route.params.round) }),
        },
      ],
    },
    {
      path: '/rigs/:id(\\d+)/edit',
      name: 'rig-edit',
      component: () => import('@/rigs/RigForm.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/rigs/:id(\\d+)/card',
      name: 'card',
      component: () => import('@/air/CardView.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    { path: '/rigs/import', name: 'rig-import', component: () => import('@/rigs/ImportRigs.vue') },
    { path: '/morning', name: 'morning', component: () => import('@/lookback/Morning.vue') },
    {
      path: '/gauges/:gauge(\\d+)',
      name: 'gauge',
      component: () => import('@/gauges/GaugeSheet.vue'),
      props: (route) => ({ gauge: Number(route.params.gauge) }),
    },
    { path: '/gauges', name: 'gauges', component: () => import('@/gauges/GaugeDrawer.vue') },
    { path: '/tables', name: 'tables', component: () => import('@/tables/TableLibrary.vue') },
    { path: '/tables/import', name: 'table-import', component: () => import('@/tables/ImportTables.vue') },
    { path: '/tables/new', name: 'table-new', component: () => import('@/tables/TableForm.vue') },
    { path: '/people', name: 'people', component: () => import('@/accounts/People.vue') },
    { path: '/:rest(.*)', name: 'nowhere', component: () => import('@/shared/Nowhere.vue') },
  ],
})
