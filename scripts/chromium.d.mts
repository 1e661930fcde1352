export declare const chromiumPath: () => string | undefined;
