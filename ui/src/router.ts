import { createRouter, createWebHistory } from 'vue-router'
import NotFoundPage from '@/pages/NotFoundPage.vue'
import FormPage from '@/pages/FormPage.vue'
import KitPage from '@/pages/KitPage.vue'
import KitsPage from '@/pages/KitsPage.vue'
import NoticesPage from '@/pages/NoticesPage.vue'
import RecordListPage from '@/pages/RecordListPage.vue'
import RecordPage from '@/pages/RecordPage.vue'
import RulePage from '@/pages/RulePage.vue'
import RulesPage from '@/pages/RulesPage.vue'
import SetupPage from '@/pages/SetupPage.vue'
import SignInPage from '@/pages/SignInPage.vue'
import TeamPage from '@/pages/TeamPage.vue'
import TrailPage from '@/pages/TrailPage.vue'
import WorklistPage from '@/pages/WorklistPage.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/worklist' },
    { path: '/sign-in', component: SignInPage, meta: { open: true, title: 'Sign in' } },
    { path: '/worklist', component: WorklistPage, meta: { title: 'Worklist' } },
    { path: '/records', redirect: '/records/deal' },
    { path: '/records/:kind(.*)', component: RecordListPage, meta: { title: 'Records' } },
    { path: '/record/:id(\\d+)', component: RecordPage, meta: { title: 'Record' } },
    { path: '/rules', component: RulesPage, meta: { title: 'Rules' } },
    { path: '/rules/:id(\\d+|new)', component: RulePage, meta: { title: 'Rule' } },
    { path: '/kits', component: KitsPage, meta: { title: 'Kits' } },
    { path: '/kits/:id(\\d+|new)', component: KitPage, meta: { title: 'Kit' } },
    { path: '/trail', component: TrailPage, meta: { title: 'Trail' } },
    { path: '/team', component: TeamPage, meta: { title: 'Team' } },
    { path: '/notices', component: NoticesPage, meta: { title: 'What you were told' } },
    { path: '/setup', redirect: '/setup/deal' },
    { path: '/setup/:place(.*)', component: SetupPage, meta: { title: 'Set-up' } },
    { path: '/form/:list', component: FormPage, meta: { open: true, title: 'Form' } },
    { path: '/:rest(.*)*', component: NotFoundPage, meta: { title: 'Not found' } },
  ],
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title)} · Yenvo`
})
