// Read before any module: the content security policy forbids the compiler that Zod would build at run time.
globalThis.__zod_globalConfig = { jitless: true };
