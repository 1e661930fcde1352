// Loaded lazily as one chunk: only what our charts need of ECharts.
import { CustomChart, LineChart } from 'echarts/charts';
import { GridComponent, TooltipComponent } from 'echarts/components';
import { init, use } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';

use([LineChart, CustomChart, GridComponent, TooltipComponent, CanvasRenderer]);

export { init };
