// Loaded lazily as one chunk: only what our charts need of ECharts.
import { CustomChart, LineChart, ScatterChart } from 'echarts/charts';
import { GridComponent, TooltipComponent } from 'echarts/components';
import { init, use } from 'echarts/core';
import { LabelLayout } from 'echarts/features';
import { CanvasRenderer } from 'echarts/renderers';

use([LineChart, ScatterChart, CustomChart, GridComponent, TooltipComponent, LabelLayout, CanvasRenderer]);

export { init };
