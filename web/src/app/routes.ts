import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', pathMatch: 'full', redirectTo: 'yard' },
  { path: 'yard', title: 'Yard', loadComponent: () => import('./yard/yard-page.ts').then((m) => m.YardPage) },
  { path: 'yard/new', title: 'New job', loadComponent: () => import('./yard/new-job-page.ts').then((m) => m.NewJobPage) },
  {
    path: 'job/:jobId',
    title: 'Job',
    loadComponent: () => import('./job/job-page.ts').then((m) => m.JobPage),
    children: [
      { path: 'sheet', title: 'Stack sheet', loadComponent: () => import('./job/sheet/sheet-page.ts').then((m) => m.SheetPage) },
      { path: ':stage', title: 'Job', loadComponent: () => import('./job/stage-page.ts').then((m) => m.StagePage) },
    ],
  },
  { path: 'stock', title: 'Stock', loadComponent: () => import('./stock/stock-page.ts').then((m) => m.StockPage) },
  { path: 'limits', title: 'Limits', loadComponent: () => import('./policy/policy-page.ts').then((m) => m.PolicyPage) },
  { path: '**', title: 'Not found', loadComponent: () => import('./ui/lost-page.ts').then((m) => m.LostPage) },
];
