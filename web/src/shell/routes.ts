import { inject } from '@angular/core';
import { Router, type Routes } from '@angular/router';
import { Keeper } from '../data/keeper';

/** The places of the application; each is loaded when it is first opened. */
export const routes: Routes = [
  {
    path: '',
    pathMatch: 'full',
    canActivate: [
      () => {
        const keeper = inject(Keeper);
        const pair = keeper.currentPair();
        return inject(Router).createUrlTree(pair ? ['/pair', pair.id] : ['/start']);
      },
    ],
    children: [],
  },
  {
    path: 'start',
    title: 'Steady Tune',
    loadComponent: () => import('../first-start/first-start').then((m) => m.FirstStart),
  },
  { path: 'shelf', title: 'Shelf · Steady Tune', loadComponent: () => import('../shelf/shelf').then((m) => m.Shelf) },
  {
    path: 'shelf/printer/:id',
    title: 'Printer · Steady Tune',
    loadComponent: () => import('../shelf/printer-page').then((m) => m.PrinterPage),
  },
  {
    path: 'shelf/filament/:id',
    title: 'Filament · Steady Tune',
    loadComponent: () => import('../shelf/filament-page').then((m) => m.FilamentPage),
  },
  {
    path: 'files',
    title: 'Files · Steady Tune',
    loadComponent: () => import('../files/files-page').then((m) => m.FilesPage),
  },
  {
    path: 'files/compare',
    title: 'Compare files · Steady Tune',
    loadComponent: () => import('../files/compare-page').then((m) => m.ComparePage),
  },
  {
    path: 'files/:hash',
    title: 'File · Steady Tune',
    loadComponent: () => import('../files/file-page').then((m) => m.FilePage),
  },
  {
    path: 'parts/:hash',
    title: 'Part · Steady Tune',
    loadComponent: () => import('../parts/part-page').then((m) => m.PartPage),
  },
  {
    path: 'phone',
    title: 'Reading · Steady Tune',
    loadComponent: () => import('../phone/phone-page').then((m) => m.PhonePage),
  },
  {
    path: 'pair/:pairId',
    title: 'Route · Steady Tune',
    loadComponent: () => import('../route/pair-page').then((m) => m.PairPage),
  },
  {
    path: 'pair/:pairId/stop/:stopId',
    title: 'Stop · Steady Tune',
    loadComponent: () => import('../route/stop-page').then((m) => m.StopPage),
  },
  {
    path: 'pair/:pairId/wrong',
    title: 'What is wrong? · Steady Tune',
    loadComponent: () => import('../route/wrong-page').then((m) => m.WrongPage),
  },
  {
    path: 'pair/:pairId/free',
    title: 'Free trial · Steady Tune',
    loadComponent: () => import('../route/free-page').then((m) => m.FreePage),
  },
  {
    path: 'pair/:pairId/checks',
    title: 'Engine checks · Steady Tune',
    loadComponent: () => import('../route/checks-page').then((m) => m.ChecksPage),
  },
  {
    path: 'pair/:pairId/values',
    title: 'Values · Steady Tune',
    loadComponent: () => import('../route/values-page').then((m) => m.ValuesPage),
  },
  {
    path: 'pair/:pairId/sums',
    title: 'Sums · Steady Tune',
    loadComponent: () => import('../route/sums-page').then((m) => m.SumsPage),
  },
  {
    path: 'pair/:pairId/tune',
    title: 'Tune sheet · Steady Tune',
    loadComponent: () => import('../tune-sheet/tune-sheet').then((m) => m.TuneSheet),
  },
  {
    path: 'trial/:id/labels',
    title: 'Label map · Steady Tune',
    loadComponent: () => import('../trial-sheet/labels-page').then((m) => m.LabelsPage),
  },
  {
    path: 'trial/:id',
    title: 'Trial · Steady Tune',
    loadComponent: () => import('../trial-sheet/trial-page').then((m) => m.TrialPage),
  },
  { path: '**', redirectTo: '' },
];
