import { ChangeDetectionStrategy, Component, effect, ElementRef, inject, input, type OnDestroy, signal, viewChild } from '@angular/core';
import type { Config, Data, Layout } from 'plotly.js';
import { Night } from './night.ts';

export interface PlotLine {
  readonly kind: 'line' | 'dash' | 'dots';
  readonly name: string;
  /** Token of the theme that gives the colour. */
  readonly tone: 'channel' | 'live' | 'reed' | 'madder' | 'fog';
  readonly x: readonly number[];
  readonly y: readonly number[];
}

type Plotly = typeof import('plotly.js-cartesian-dist-min');
let plotly: Promise<Plotly> | null = null;
/** Fetched on the first chart and kept for the next. */
function loadPlotly(): Promise<Plotly> {
  plotly ??= import('plotly.js-cartesian-dist-min').then((m) => ('default' in m ? m.default : m));
  plotly.catch(() => (plotly = null));
  return plotly;
}

const CONFIG: Partial<Config> = { displayModeBar: false, responsive: true, showSendToCloud: false, plotlyServerURL: '' };

/** Lines over two axes, in the colours of the theme. */
@Component({
  selector: 'app-plot',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div #plot class="plot" role="img" [attr.aria-label]="label()"></div>
    @if (isMissing()) {
      <p class="muted">The chart could not be fetched. The figures beside it are whole.</p>
    }
  `,
  styles: `
    .plot {
      width: 100%;
      height: 260px;
      overflow: hidden;
    }
  `,
})
export class Plot implements OnDestroy {
  readonly lines = input.required<readonly PlotLine[]>();
  readonly xTitle = input('');
  readonly yTitle = input('');
  /** Whether the upward axis begins at zero; a temperature need not. */
  readonly isFromZero = input(true);
  readonly label = input.required<string>();

  protected readonly element = viewChild.required<ElementRef<HTMLDivElement>>('plot');
  readonly #night = inject(Night);
  protected readonly isMissing = signal(false);
  #drawn: Plotly | null = null;

  constructor() {
    effect(() => {
      const [lines, element] = [this.lines(), this.element().nativeElement];
      this.#night.isOn();
      void this.#draw(lines, element);
    });
  }

  ngOnDestroy(): void {
    this.#drawn?.purge(this.element().nativeElement);
  }

  async #draw(lines: readonly PlotLine[], element: HTMLDivElement): Promise<void> {
    try {
      const library = await loadPlotly();
      this.#drawn = library;
      const style = getComputedStyle(document.documentElement);
      const colour = (token: string): string => style.getPropertyValue(`--${token}`).trim();
      const tones = {
        channel: colour('channel'),
        live: colour('live-ink'),
        reed: colour('reed'),
        madder: colour('madder'),
        fog: colour('fog'),
      };
      const data = lines.map((line): Data => ({
        ...{ type: 'scatter', x: [...line.x], y: [...line.y], name: line.name },
        mode: line.kind === 'dots' ? 'markers' : 'lines',
        line: { color: tones[line.tone], width: 2.5, dash: line.kind === 'dash' ? 'dot' : 'solid' },
        marker: { color: colour('shell'), size: 10, line: { color: tones[line.tone], width: 2.5 } },
      }));
      const axis = { gridcolor: colour('line'), zerolinecolor: colour('edge'), linecolor: colour('edge') };
      const layout: Partial<Layout> = {
        ...{ paper_bgcolor: 'rgba(0,0,0,0)', plot_bgcolor: 'rgba(0,0,0,0)', margin: { l: 48, r: 10, t: 58, b: 40 } },
        font: { family: style.getPropertyValue('--mono') || 'monospace', size: 13, color: colour('ink') },
        xaxis: { ...axis, title: { text: this.xTitle() } },
        yaxis: { ...axis, title: { text: this.yTitle() }, rangemode: this.isFromZero() ? 'tozero' : 'normal' },
        legend: { orientation: 'h', y: 1.03, yanchor: 'bottom', x: 0, font: { size: 12 } },
      };
      await library.react(element, data, layout, CONFIG);
      this.isMissing.set(false);
    } catch {
      this.isMissing.set(true);
    }
  }
}
