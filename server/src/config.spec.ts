import { readConfig } from './config.ts';

const whole = { DATABASE_URL: 'postgres://127.0.0.1/x', ESTUARINE_SECRET: 'x'.repeat(40) };

describe('readConfig', () => {
  it('stays on loopback unless told otherwise', () => {
    expect(readConfig(whole)).toMatchObject({ host: '127.0.0.1', port: 4180, logLevel: 'warn', webRoot: undefined });
  });
  it.each([
    [{ ...whole, DATABASE_URL: undefined }, /DATABASE_URL/],
    [{ ...whole, ESTUARINE_SECRET: 'short' }, /at least 32/],
    [{ ...whole, PORT: '70000' }, /PORT/],
    [{ ...whole, PORT: 'eighty' }, /PORT/],
    [{ ...whole, ESTUARINE_LOG: 'loud' }, /ESTUARINE_LOG/],
    [{ ...whole, HOST: '192.168.1.9' }, /by TLS only/],
    [{ ...whole, ESTUARINE_TLS_KEY: 'k' }, /go together/],
  ])('says what is missing or wrong, %#', (env, reason) => {
    expect(() => readConfig(env)).toThrow(reason);
  });
});
