import { useQuery } from '@tanstack/react-query';
import { businessQuery } from '../api/queries';
import { figure } from './format';

/** Money as this site counts it: “€3.47”; the figure alone where no currency is entered. */
export function useMoney(): (value: number, digits?: number) => string {
  const currency = useCurrency();
  return (value, digits = 2) => money(value, currency, digits);
}

/** What this site counts in: “EUR”; empty where nobody said. */
export function useCurrency(): string {
  return useQuery(businessQuery).data?.business.currency ?? '';
}

/** Whether a reading is money: it has no unit of its own, and costs something. */
function isMoney(id: string, unit: string): boolean {
  return unit === '' && /(^|_)cost(_|$)/.test(id);
}

/** A reading in words, with its unit: “64.0 °Bx”, “€3.47” where it costs something, an em dash where there is none. */
export function useReadingWords(): (
  id: string,
  value: number | null | undefined,
  digits: number,
  unit: string,
) => string {
  const amount = useMoney();
  return (id, value, digits, unit) => {
    if (value === null || value === undefined) return '—';
    if (isMoney(id, unit)) return amount(value, digits);
    return `${figure(value, digits)}${unit && ` ${unit}`}`;
  };
}

/** “€3.47”, “3.47” without a currency. */
export function money(value: number, currency: string, digits = 2): string {
  const shown = figure(value, digits);
  return currency === '' ? shown : `${symbolOf(currency)}${shown}`;
}

/** “€”, or the code where a currency has no sign of its own. */
export function symbolOf(currency: string): string {
  const parts = new Intl.NumberFormat('en-GB', {
    style: 'currency',
    currency,
    currencyDisplay: 'narrowSymbol',
  }).formatToParts(0);
  const symbol = parts.find((part) => part.type === 'currency')?.value ?? currency;
  return /[A-Za-z]$/.test(symbol) ? `${symbol} ` : symbol;
}
