/// <reference types="astro/client" />
import type { Who } from './service/token-service';

declare global {
  namespace App {
    interface Locals {
      /** Names one request in the log and on an error page. */
      request?: string;
      /** Who acts by a token; nobody has been named where it is not there. */
      who?: Who;
    }
  }
}
