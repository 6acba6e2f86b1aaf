/** The same without what says nothing, such as settings that were emptied. */
export const leaveOut = <T extends object>(said: T, nothing: (value: unknown, key: string) => boolean): T =>
  Object.fromEntries(Object.entries(said).filter(([key, value]) => !nothing(value, key))) as T
