import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'plans', component: () => import('./views/plans/PlansView.vue') },
    {
      path: '/plans/:id(\\d+)/board',
      name: 'board',
      component: () => import('./views/board/BoardView.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/plans/:id(\\d+)/people',
      name: 'people',
      component: () => import('./views/people/PeopleView.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/plans/:id(\\d+)/hosts',
      name: 'hosts',
      component: () => import('./views/hosts/HostsView.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/plans/:id(\\d+)/pools',
      name: 'pools',
      component: () => import('./views/pools/PoolsView.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/plans/:id(\\d+)/tuner',
      name: 'tuner',
      component: () => import('./views/tuner/TunerView.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/plans/:id(\\d+)/checks',
      name: 'checks',
      component: () => import('./views/checks/ChecksView.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    { path: '/plans/:id(\\d+)', redirect: (to) => ({ name: 'board', params: to.params }) },
    { path: '/:rest(.*)', component: () => import('./views/frame/NowhereView.vue') },
  ],
})
