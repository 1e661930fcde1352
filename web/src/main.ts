import { ErrorHandler, inject, provideAppInitializer, provideZonelessChangeDetection } from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { MessageService } from 'primeng/api';
import { providePrimeNG } from 'primeng/config';
import { Keeper } from './data/keeper';
import { Shell } from './shell/shell';
import { FaultToasts } from './shell/fault-toasts';
import { routes } from './shell/routes';
import { notebook } from './shell/theme';

bootstrapApplication(Shell, {
  providers: [
    provideZonelessChangeDetection(),
    provideRouter(routes, withComponentInputBinding()),
    providePrimeNG({
      theme: { preset: notebook, options: { darkModeSelector: '.night', cssLayer: false } },
      ripple: false,
    }),
    MessageService,
    { provide: ErrorHandler, useClass: FaultToasts },
    // A phone keeps nothing: it shows the sheet of the desk.
    provideAppInitializer(() => (location.pathname === '/phone' ? undefined : inject(Keeper).open())),
  ],
}).catch((error: unknown) => console.error(error));
