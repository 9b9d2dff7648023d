// Nothing: the target this belongs to only precompiles the headers the tests share.
