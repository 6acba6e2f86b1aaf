import { whenOpened } from '@/lib/whenOpened'

/** A dialog over the page; see DialogPanel for what it takes. */
export default whenOpened(() => import('./DialogPanel.vue'))
