import { createRouter, createWebHistory } from 'vue-router'

/** Each page is a part of its own that is loaded when it is opened. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/worklist' },
    { path: '/sign-in', component: () => import('@/pages/SignInPage.vue'), meta: { open: true, title: 'Sign in' } },
    { path: '/open', component: () => import('@/pages/OpenPage.vue'), meta: { open: true, title: 'Open the house' } },
    {
      path: '/welcome',
      component: () => import('@/pages/WelcomePage.vue'),
      meta: { open: true, title: 'Your password' },
    },
    {
      path: '/forgotten',
      component: () => import('@/pages/ForgottenPage.vue'),
      meta: { open: true, title: 'Forgotten password' },
    },
    {
      path: '/unsubscribe/:token',
      component: () => import('@/pages/UnsubscribePage.vue'),
      meta: { open: true, title: 'Stop mails' },
    },
    { path: '/worklist', component: () => import('@/pages/WorklistPage.vue'), meta: { title: 'Worklist' } },
    { path: '/records', redirect: '/records/deal' },
    { path: '/records/:kind(.*)', component: () => import('@/pages/RecordListPage.vue'), meta: { title: 'Records' } },
    { path: '/record/:id(\\d+)', component: () => import('@/pages/RecordPage.vue'), meta: { title: 'Record' } },
    { path: '/search', component: () => import('@/pages/SearchPage.vue'), meta: { title: 'Find' } },
    { path: '/trash', component: () => import('@/pages/TrashPage.vue'), meta: { title: 'Trash' } },
    {
      path: '/duplicates/:kind(.*)',
      component: () => import('@/pages/DuplicatesPage.vue'),
      meta: { title: 'Duplicates' },
    },
    { path: '/bulk', component: () => import('@/pages/BulksPage.vue'), meta: { title: 'Many at once' } },
    { path: '/bulk/:id(\\d+)', component: () => import('@/pages/BulkPage.vue'), meta: { title: 'Many at once' } },
    { path: '/merge', component: () => import('@/pages/MergePage.vue'), meta: { title: 'Merge' } },
    { path: '/tables', component: () => import('@/pages/TablesPage.vue'), meta: { title: 'Tables brought in' } },
    { path: '/table/:id(\\d+)', component: () => import('@/pages/TablePage.vue'), meta: { title: 'Table' } },
    { path: '/rules', component: () => import('@/pages/RulesPage.vue'), meta: { title: 'Rules' } },
    { path: '/rules/:id(\\d+|new)', component: () => import('@/pages/RulePage.vue'), meta: { title: 'Rule' } },
    { path: '/kits', component: () => import('@/pages/KitsPage.vue'), meta: { title: 'Kits' } },
    { path: '/kits/:id(\\d+|new)', component: () => import('@/pages/KitPage.vue'), meta: { title: 'Kit' } },
    { path: '/trail', component: () => import('@/pages/TrailPage.vue'), meta: { title: 'Trail' } },
    { path: '/team', component: () => import('@/pages/TeamPage.vue'), meta: { title: 'Team' } },
    { path: '/stand-ins', component: () => import('@/pages/StandInsPage.vue'), meta: { title: 'Stand-ins' } },
    { path: '/me', component: () => import('@/pages/MePage.vue'), meta: { title: 'Your page' } },
    { path: '/notices', component: () => import('@/pages/NoticesPage.vue'), meta: { title: 'What you were told' } },
    { path: '/setup', redirect: '/setup/deal' },
    { path: '/setup/:place(.*)', component: () => import('@/pages/SetupPage.vue'), meta: { title: 'Set-up' } },
    { path: '/:rest(.*)*', component: () => import('@/pages/NotFoundPage.vue'), meta: { title: 'Not found' } },
  ],
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title)} · Yenvo`
})
