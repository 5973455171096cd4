/** The figures in a formula as chemists write them, small. */
export const pretty = (formula: string) =>
  formula
    .replace(/\./g, '\u00b7')
    .replace(/(?<=[A-Za-z)\]])\d+/g, (figures) =>
      [...figures].map((one) => String.fromCharCode(0x2080 + Number(one))).join(''),
    )
export const prettyEquation = (text: string) =>
  text
    .split(' ')
    .map((word) => (/^\d+$/.test(word) ? word : word === '->' ? '\u2192' : pretty(word)))
    .join(' ')
