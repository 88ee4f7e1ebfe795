/** What the dossier's charts draw with besides lines; it comes with them, not with the first page. */
import { BarChart, CustomChart, ScatterChart } from "echarts/charts";
import { MarkAreaComponent } from "echarts/components";
import { use } from "echarts/core";
import { LabelLayout } from "echarts/features";

use([BarChart, CustomChart, ScatterChart, MarkAreaComponent, LabelLayout]);
