/** A kind in words. @example kindTitle('outside-micrometer') // 'Outside micrometer' */
export const kindTitle = (kind: string): string => kind.replace(/-/g, ' ').replace(/^./, (c) => c.toUpperCase());
