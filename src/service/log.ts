import pino from 'pino';

/** Structured lines on standard output, one a happening; the level is LOG_LEVEL. */
export const log = pino({
  name: 'just-twice',
  level: process.env['LOG_LEVEL'] || 'info',
  // Errors with their stack for whoever looks after the server; nothing of a request's body, which holds people's work.
  serializers: { err: pino.stdSerializers.err },
  timestamp: pino.stdTimeFunctions.isoTime,
});
