// What may stand at a place in a file.
//
// Threads: one; it runs a compiler of its own up to the place.
#pragma once

#include <llvm/Support/JSON.h>

#include <string>
#include <vector>

namespace reader
{

struct Place {
    std::string file;
    unsigned line = 0, column = 0; // from 1; columns are bytes
};

// Words with what they are of, the likeliest first: [{"word", "type"}]. `words` is a compiler's command line.
llvm::json::Array completionsAt(const std::vector<const char *> &words,
                                const std::vector<std::pair<std::string, std::string>> &texts,
                                const Place &place);

} // namespace reader
