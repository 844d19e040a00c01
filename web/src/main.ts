import { bootstrapApplication } from '@angular/platform-browser';
import * as z from 'zod';
import { appConfig } from './app/app.config.ts';
import { App } from './app/app.ts';
import { registerServiceWorker } from './app/service-worker.ts';

// zod compiles parsers with `new Function` where it may; its probe for that is reported as a violation of the page's policy
z.config({ jitless: true });

bootstrapApplication(App, appConfig)
  .then(() => registerServiceWorker())
  .catch((error: unknown) => console.error(error));
