import { readonly, ref } from 'vue'
import { sentenceOf } from '@/api/client'

/** `undo` offers to take back what was done. */
export type Notice = { id: number; text: string; tone: 'good' | 'bad'; undo?: () => void }

const notices = ref<Notice[]>([])
let last = 0

/** Short sentences at the foot of the page: what was done, or why it was not. */
export function useNotices() {
  function say(text: string, tone: Notice['tone'] = 'good', undo?: () => void) {
    const notice: Notice = { id: ++last, text, tone, ...(undo ? { undo } : {}) }
    notices.value = [...notices.value.slice(-2), notice]
    setTimeout(() => dismiss(notice.id), tone === 'good' && !undo ? 5000 : 12_000)
  }
  function dismiss(id: number) {
    notices.value = notices.value.filter((notice) => notice.id !== id)
  }
  return {
    notices: readonly(notices),
    say,
    dismiss,
    /** Does something and says the sentence when it fails; gives true when it went well. */
    async attempt(act: () => Promise<unknown>, done?: string): Promise<boolean> {
      try {
        await act()
        if (done) say(done)
        return true
      } catch (problem) {
        say(sentenceOf(problem), 'bad')
        return false
      }
    },
  }
}
