/** Brush, rub out, clone, tape, masks, groups and changes, with a real pointer on the real sheet. */
import {
  add,
  colourAt,
  expect,
  ground,
  hand,
  layerNames,
  layers,
  panel,
  rgb,
  saved,
  shows,
  startLivery,
  stroke,
  test,
  type,
  wear,
} from './fixture.ts';

test('a stroke goes on brushwork of its own, follows the hand, is rubbed out, taken back, and there again after a reload', async ({
  page,
}) => {
  await startLivery(page, 'Brushed');
  const base = await ground(page);
  await hand(page, 'Paint');
  await expect(page.getByTestId('paints-on')).toHaveText('On new brushwork above');
  await type(page, 'size', '160');
  await wear(page, '#2050c0');
  await stroke(page, [0.3, 0.5], [0.7, 0.5]);
  await shows(page, 0.5, 0.5, rgb('#2050c0'));
  await shows(page, 0.5, 0.7, base);
  expect(await layerNames(page)).toEqual(['Solid', 'Brushwork']);
  await expect(page.getByTestId('paints-on')).toHaveText('On Brushwork');

  await hand(page, 'Rub out');
  await stroke(page, [0.5, 0.4], [0.5, 0.6]);
  await shows(page, 0.5, 0.5, base);
  await shows(page, 0.35, 0.5, rgb('#2050c0'));
  await page.getByRole('button', { name: 'Undo' }).click();
  await shows(page, 0.5, 0.5, rgb('#2050c0'));
  await saved(page);
  await page.reload();
  await shows(page, 0.5, 0.5, rgb('#2050c0'));
  await expect.poll(() => layerNames(page)).toEqual(['Solid', 'Brushwork']);
});

test('Escape lets a stroke go; what is locked is not painted on; a brush keeps its way with the scheme', async ({
  page,
}) => {
  await startLivery(page, 'Careful');
  const base = await ground(page);
  await hand(page, 'Paint');
  await type(page, 'size', '160');
  const box = (await page.getByTestId('art').boundingBox())!;
  await wear(page, '#c02020');
  await page.mouse.move(box.x + box.width * 0.3, box.y + box.height * 0.5);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.7, box.y + box.height * 0.5, { steps: 8 });
  await shows(page, 0.5, 0.5, rgb('#c02020'));
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await shows(page, 0.5, 0.5, base);
  // The brushwork that was put on for it is gone as well.
  await expect.poll(() => layerNames(page)).toEqual(['Solid']);

  await stroke(page, [0.3, 0.3], [0.4, 0.3]);
  await expect.poll(() => layerNames(page)).toEqual(['Solid', 'Brushwork']);
  await page.getByRole('button', { name: 'Lock' }).click();
  await stroke(page, [0.6, 0.3], [0.7, 0.3]);
  await expect.poll(() => layerNames(page)).toEqual(['Solid', 'Brushwork', 'Brushwork 2']);
});

test('clone copies from where it was told to, whole texels away', async ({ page }) => {
  await startLivery(page, 'Cloned');
  const base = await ground(page);
  await hand(page, 'Paint');
  await type(page, 'size', '200');
  await wear(page, '#d0a020');
  await stroke(page, [0.3, 0.4], [0.34, 0.4]);
  await shows(page, 0.32, 0.4, rgb('#d0a020'));
  await hand(page, 'Clone');
  await stroke(page, [0.6, 0.6], [0.64, 0.6]);
  await expect(page.getByRole('alert')).toContainText('hold Alt');
  await page.keyboard.down('Alt');
  await stroke(page, [0.3, 0.4]);
  await page.keyboard.up('Alt');
  await expect(panel(page)).toContainText('Takes from');
  await shows(page, 0.62, 0.6, base);
  await stroke(page, [0.6, 0.6], [0.64, 0.6]);
  await shows(page, 0.62, 0.6, rgb('#d0a020'));
});

test('taped off, work keeps to the region; the region masks a layer, which is painted on, grouped and recoloured', async ({
  page,
}) => {
  await startLivery(page, 'Taped');
  const base = await ground(page);
  await hand(page, 'Tape off');
  await stroke(page, [0.3, 0.3], [0.5, 0.7]);
  await expect(panel(page)).toContainText('texels are open');
  await hand(page, 'Paint');
  await type(page, 'size', '160');
  await wear(page, '#208040');
  await stroke(page, [0.4, 0.5], [0.7, 0.5]);
  await shows(page, 0.45, 0.5, rgb('#208040'));
  await shows(page, 0.6, 0.5, base);

  // The same region as the mask of another layer.
  await hand(page, 'Place');
  await add(page, 'Base', 'Solid');
  await panel(page)
    .getByRole('button', { name: /^paint: / })
    .click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('textbox').fill('#808080');
  await dialog.getByRole('textbox').press('Enter');
  await shows(page, 0.6, 0.5, rgb('#808080'));
  await panel(page).getByLabel('shows').click();
  await page.getByRole('option', { name: 'in the taped-off region' }).click();
  await shows(page, 0.6, 0.5, base);
  await shows(page, 0.45, 0.5, rgb('#808080'));
  await panel(page).getByRole('checkbox', { name: 'Turned round' }).click();
  await shows(page, 0.6, 0.5, rgb('#808080'));
  await shows(page, 0.45, 0.5, rgb('#208040'));
  await panel(page).getByRole('checkbox', { name: 'Turned round' }).click();
  await shows(page, 0.6, 0.5, base);

  // Painted on the mask: rubbed out there, the layer opens.
  await hand(page, 'Tape off');
  await panel(page).getByRole('button', { name: 'Take the tape off' }).click();
  await panel(page).getByRole('button', { name: 'Paint the mask' }).click();
  await expect(page.getByTestId('paints-on')).toContainText('On the mask of Solid');
  await stroke(page, [0.33, 0.5], [0.5, 0.5]);
  await shows(page, 0.45, 0.5, rgb('#208040'));
  await shows(page, 0.45, 0.65, rgb('#808080'));

  // Recoloured: the middle lightness becomes the colour.
  await hand(page, 'Place');
  await panel(page).getByRole('button', { name: 'Add a change' }).click();
  await page.getByRole('menuitem', { name: /^Recolour/ }).click();
  await expect(panel(page)).toContainText('Lightness');
  await expect.poll(async () => (await colourAt(page, 0.45, 0.65)).slice(0, 3)).not.toEqual(rgb('#808080'));
  await page.getByRole('button', { name: 'Group', exact: true }).click();
  await expect(layers(page).filter({ hasText: 'Group' }).first()).toBeVisible();
  expect((await layerNames(page)).filter((name) => name === 'Group')).toHaveLength(1);
  await type(page, 'opacity', '0');
  await shows(page, 0.45, 0.65, base);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Take the group apart' }).click();
  expect(await layerNames(page)).not.toContain('Group');
});

test('one colour becomes another, everywhere or only where it hangs together', async ({ page }) => {
  await startLivery(page, 'Replaced');
  await ground(page);
  await hand(page, 'Paint');
  await type(page, 'size', '160');
  await wear(page, '#2050c0');
  await stroke(page, [0.4, 0.35], [0.6, 0.35]);
  await stroke(page, [0.4, 0.65], [0.6, 0.65]);
  for (const y of [0.35, 0.65]) await shows(page, 0.5, y, rgb('#2050c0'));
  await hand(page, 'Place');
  await panel(page).getByRole('button', { name: 'Add a change' }).click();
  await page.getByRole('menuitem', { name: /^Replace a colour/ }).click();
  const becomes = async (which: 'from' | 'to', hex: string) => {
    await panel(page)
      .getByRole('button', { name: new RegExp(`^${which}: `) })
      .click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('textbox').fill(hex);
    await dialog.getByRole('textbox').press('Enter');
    await expect(page.locator('.MuiPopover-root')).toHaveCount(0);
  };
  await becomes('from', '#2050c0');
  await becomes('to', '#c02020');
  for (const y of [0.35, 0.65]) await shows(page, 0.5, y, rgb('#c02020'));
  await panel(page).getByRole('button', { name: 'Only where it hangs together' }).click();
  await expect(panel(page).getByRole('button', { name: 'Press on the patch', pressed: true })).toBeVisible();
  await stroke(page, [0.5, 0.65]);
  await shows(page, 0.5, 0.65, rgb('#c02020'));
  await shows(page, 0.5, 0.35, rgb('#2050c0'));
  expect(await layerNames(page)).toEqual(['Solid', 'Brushwork', 'Brushwork on one patch']);
  await page.getByRole('button', { name: 'Undo' }).click();
  await shows(page, 0.5, 0.35, rgb('#c02020'));
  expect(await layerNames(page)).toEqual(['Solid', 'Brushwork']);
});

test('two windows paint on one tile, and both strokes stay; a stroke made while the server was away arrives', async ({
  page,
  context,
}) => {
  const id = await startLivery(page, 'Shared');
  await ground(page);
  await hand(page, 'Paint');
  await type(page, 'size', '120');
  await wear(page, '#101060');
  await stroke(page, [0.45, 0.5], [0.55, 0.5]);
  await shows(page, 0.5, 0.5, rgb('#101060'));
  await expect.poll(() => layerNames(page)).toEqual(['Solid', 'Brushwork']);
  await saved(page);
  const other = await context.newPage();
  await other.goto(page.url().split('?')[0]);
  await shows(other, 0.5, 0.5, rgb('#101060'));
  await other.getByRole('treeitem', { name: /^Brushwork/ }).click();
  await hand(other, 'Paint');
  await wear(other, '#e0e020');
  await page.bringToFront();
  await context.setOffline(true);
  await stroke(page, [0.45, 0.56], [0.55, 0.56]);
  await shows(page, 0.5, 0.56, rgb('#101060'));
  await context.setOffline(false);
  await other.bringToFront();
  await stroke(other, [0.45, 0.44], [0.55, 0.44]);
  for (const one of [page, other]) {
    await one.bringToFront();
    await shows(one, 0.5, 0.56, rgb('#101060'));
    await shows(one, 0.5, 0.44, rgb('#e0e020'));
    await saved(one);
  }
  const livery = await page.request.get(`/api/liveries/${id}`).then((res) => res.json());
  const hull = livery.livery.sheets[0].maps[0].layers;
  expect(hull.find((layer: { kind: string }) => layer.kind === 'brush').strokes).toHaveLength(3);
});

test('a pen paints by its pressure, its eraser end rubs out, and the palm beside it paints nothing', async ({
  page,
}) => {
  await startLivery(page, 'By pen');
  const base = await ground(page);
  await hand(page, 'Paint');
  await type(page, 'size', '200');
  await wear(page, '#2050c0');
  const box = (await page.getByTestId('art').boundingBox())!;
  const at = (x: number, y: number) => ({ x: box.x + box.width * x, y: box.y + box.height * y });
  const browser = await page.context().newCDPSession(page);
  /** A pen by the browser's own protocol: a real pointer, with pressure (0..1) and tilt. */
  const pen = async (force: number, y: number) => {
    const common = { pointerType: 'pen', button: 'left', buttons: 1, force, tiltX: 20, tiltY: 0 } as const;
    await browser.send('Input.dispatchMouseEvent', { ...common, type: 'mousePressed', ...at(0.3, y), clickCount: 1 });
    for (let k = 1; k <= 10; k++)
      await browser.send('Input.dispatchMouseEvent', { ...common, type: 'mouseMoved', ...at(0.3 + k * 0.04, y) });
    await browser.send('Input.dispatchMouseEvent', { ...common, type: 'mouseReleased', ...at(0.7, y), buttons: 0 });
  };
  /** How far above its middle a stroke reaches, in shares of the sheet. */
  const reach = async (y: number) => {
    await shows(page, 0.5, y, rgb('#2050c0'));
    for (let up = 0; up < 0.1; up += 0.004)
      if ((await colourAt(page, 0.5, y - up)).slice(0, 3).join() !== rgb('#2050c0').join()) return up;
    return 0.1;
  };
  await pen(1, 0.35);
  const firm = await reach(0.35);
  await pen(0.35, 0.65);
  const light = await reach(0.65);
  expect(light).toBeLessThan(firm * 0.75);

  // Right after the pen, a hand that rests on the glass.
  await pen(1, 0.35);
  const { x, y } = at(0.5, 0.85);
  await browser.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [{ x, y }] });
  await browser.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: [{ x: x + 60, y }] });
  await browser.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await saved(page);
  await shows(page, 0.5, 0.85, base);

  // The protocol has no eraser end: events as the standard describes them (Pointer Events Level 3, 5.1.1.3: button 5, buttons 32).
  await page.evaluate(
    ({ from, to }) => {
      const target = document.elementFromPoint(from.x, from.y)!;
      const capture = Element.prototype.setPointerCapture;
      // Only pointers of the machine's own can be captured.
      Element.prototype.setPointerCapture = () => {};
      const tell = (type: string, spot: { x: number; y: number }, buttons: number) =>
        target.dispatchEvent(
          new PointerEvent(type, {
            ...{ bubbles: true, cancelable: true, pointerId: 77, pointerType: 'pen', isPrimary: true, pressure: 1 },
            ...{ clientX: spot.x, clientY: spot.y, button: type === 'pointermove' ? -1 : 5, buttons },
          }),
        );
      tell('pointerdown', from, 32);
      for (let k = 1; k <= 8; k++) tell('pointermove', { x: from.x, y: from.y + ((to.y - from.y) * k) / 8 }, 32);
      tell('pointerup', to, 0);
      Element.prototype.setPointerCapture = capture;
    },
    { from: at(0.5, 0.25), to: at(0.5, 0.45) },
  );
  await shows(page, 0.5, 0.35, base);
  await shows(page, 0.35, 0.35, rgb('#2050c0'));
  await saved(page);
});
