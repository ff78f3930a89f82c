/** What makes a field for a day: written year, month, day in every browser, as all dates here are. */
export const dayField = {
  type: 'text',
  inputMode: 'numeric',
  placeholder: 'YYYY-MM-DD',
  maxLength: 10,
  pattern: '\\d{4}-\\d{2}-\\d{2}',
  title: 'Year, month and day, for instance 2027-05-24',
  autoComplete: 'off',
} as const;
