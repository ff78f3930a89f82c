/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    /** Names one request in the log and on an error page. */
    request?: string;
  }
}
