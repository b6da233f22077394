export * from './graces';
export * from './leftHand';
export * from './passage';
export * from './pattern';
export * from './plucks';
export * from './strum';
