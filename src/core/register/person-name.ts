/**
 * A name as it is compared: *ada* is not another person than *Ada*, nor is *Ada  Brand* than *Ada Brand*.
 * @example plainName(' Ada  BRAND ') // 'ada brand'
 */
export const plainName = (name: string): string => name.normalize('NFKC').trim().replace(/\s+/gu, ' ').toLocaleLowerCase('en');

/** Whether two names name one person. @example isSamePerson('Ada  Byron', 'ada byron') // true */
export const isSamePerson = (a: string, b: string): boolean => plainName(a) === plainName(b);
