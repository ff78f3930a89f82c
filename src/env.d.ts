/// <reference types="astro/client" />
import type { Device } from './service/sign-in/who-acts';
import type { Who } from './service/token-service';

declare global {
  namespace App {
    interface Locals {
      /** Names one request in the log and on an error page. */
      request?: string;
      /** Who acts, by a session or a token; nobody where it is not there. */
      who?: Who;
      /** The device that asks, where it is signed in. */
      device?: Device;
    }
  }
}
