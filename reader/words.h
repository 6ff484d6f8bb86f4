// What words of a file stand for, as clang's "unified symbol resolutions".
//
// Threads: one. Nothing outlives the unit that it was made from.
#pragma once

#include <clang/Frontend/ASTUnit.h>
#include <llvm/Support/JSON.h>

#include <vector>

namespace reader
{

// For each byte offset in the main file a list of resolutions: none where nothing stands there that the
// compiler has seen, several where a word in a template stands for more than one thing.
llvm::json::Array meaningsOf(clang::ASTUnit &unit, const std::vector<int64_t> &offsets);

} // namespace reader
