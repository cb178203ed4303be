export function kernels(): Promise<void>;
