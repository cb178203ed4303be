/** ag-psd without a DOM only needs somewhere to put pixels. To be imported wherever the library reads or writes. */
import { initializeCanvas } from 'ag-psd';

initializeCanvas(
  () => {
    throw new Error('There is no canvas here.');
  },
  (width, height) => ({ width, height, data: new Uint8ClampedArray(width * height * 4) }) as unknown as ImageData,
);
