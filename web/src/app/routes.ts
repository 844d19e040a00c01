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
      { path: 'sheet', title: 'Stack sheet', loadComponent: () => import('./job/plan/sheet-page.ts').then((m) => m.SheetPage) },
      { path: 'labels', title: 'Module labels', loadComponent: () => import('./job/open/labels-page.ts').then((m) => m.LabelsPage) },
      { path: ':stage', title: 'Job', loadComponent: () => import('./job/stage-page.ts').then((m) => m.StagePage) },
    ],
  },
  { path: 'stock', title: 'Stock', loadComponent: () => import('./stock/stock-page.ts').then((m) => m.StockPage) },
  { path: 'profiles', title: 'Profiles', loadComponent: () => import('./profiles/profiles-page.ts').then((m) => m.ProfilesPage) },
  {
    path: 'profiles/new',
    title: 'New profile',
    loadComponent: () => import('./profiles/new-profile-page.ts').then((m) => m.NewProfilePage),
  },
  { path: 'profiles/:profileId', title: 'Profile', loadComponent: () => import('./profiles/profile-page.ts').then((m) => m.ProfilePage) },
  { path: 'gear', title: 'Gear', loadComponent: () => import('./gear/gear-page.ts').then((m) => m.GearPage) },
  { path: 'people', title: 'People', loadComponent: () => import('./people/people-page.ts').then((m) => m.PeoplePage) },
  { path: 'reckoner', title: 'Reckoner', loadComponent: () => import('./reckoner/reckoner-page.ts').then((m) => m.ReckonerPage) },
  { path: 'reckoner/:name', title: 'Reckoner', loadComponent: () => import('./reckoner/reckoner-page.ts').then((m) => m.ReckonerPage) },
  { path: 'figures', title: 'Figures', loadComponent: () => import('./figures/figures-page.ts').then((m) => m.FiguresPage) },
  { path: 'limits', title: 'Limits', loadComponent: () => import('./policy/policy-page.ts').then((m) => m.PolicyPage) },
  { path: '**', title: 'Not found', loadComponent: () => import('./ui/lost-page.ts').then((m) => m.LostPage) },
];
