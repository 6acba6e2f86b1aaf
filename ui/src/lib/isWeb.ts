/** Only web addresses are made a link: whatever else stands there must not be run by a press. */
export const isWeb = (link: string | null): link is string => /^https?:\/\//i.test(link ?? '')
