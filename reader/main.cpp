// pipit-reader: reads C++ for Pipit. A request is a line of JSON on its input, an answer one on its output.
//
//   {"file": F, "arguments": [...], "own": [folders], "texts": {file: text}, "names": [functions], "at":
//   offset}
//
// `texts` stand in for what is on disk. Told are the functions of those names (as "Desk::load"), or the one
// that holds the byte at `at`, each with all of the person's that it reaches; or, with "words": [offsets],
// what stands at those bytes of the file (words.h); or, with "complete": {"line", "column"}, what may stand
// at that place (complete.h); with none of these only the messages. It never runs what it reads, and takes no
// more than a gigabyte: with more it ends, and whoever asked starts another.
#include "reader/complete.h"
#include "reader/facts.h"
#include "reader/words.h"

#include <clang/Frontend/ASTUnit.h>
#include <clang/Frontend/CompilerInstance.h>
#include <clang/Frontend/TextDiagnosticBuffer.h>

#include <cstdio>
#include <iostream>
#include <sys/resource.h>

using namespace clang;
namespace json = llvm::json;

namespace
{

std::vector<std::string> textsOf(const json::Array *list)
{
    std::vector<std::string> out;
    if (list)
        for (const json::Value &v : *list)
            if (const auto s = v.getAsString())
                out.push_back(s->str());
    return out;
}

json::Array messagesOf(const ASTUnit &unit)
{
    json::Array out;
    for (auto it = unit.stored_diag_begin(); it != unit.stored_diag_end(); ++it) {
        const FullSourceLoc at = it->getLocation();
        json::Object each{{"error", it->getLevel() >= DiagnosticsEngine::Error},
                          {"text", it->getMessage().str()}};
        if (it->getLevel() < DiagnosticsEngine::Warning)
            continue;
        if (at.isValid()) {
            const PresumedLoc place = at.getManager().getPresumedLoc(at);
            each["file"] = place.getFilename();
            each["line"] = int64_t(place.getLine());
            each["column"] = int64_t(place.getColumn());
        }
        out.push_back(std::move(each));
    }
    return out;
}

bool holds(const FunctionDecl *f, int64_t at, const SourceManager &sources)
{
    const SourceLocation begin = sources.getExpansionLoc(f->getBeginLoc()),
                         end = sources.getExpansionLoc(f->getEndLoc());
    return sources.isInMainFile(begin) && sources.getFileOffset(begin) <= at &&
           at <= sources.getFileOffset(end);
}

json::Object answer(const json::Object &request)
{
    std::vector<std::string> arguments = textsOf(request.getArray("arguments"));
    const std::string file = request.getString("file").getValueOr("").str();
    arguments.push_back(file);
    std::vector<const char *> words{"clang++"};
    for (const std::string &a : arguments)
        words.push_back(a.c_str());
    std::vector<ASTUnit::RemappedFile> texts;
    if (const json::Object *all = request.getObject("texts"))
        for (const auto &[name, text] : *all)
            if (const auto s = text.getAsString())
                texts.emplace_back(name.str(),
                                   llvm::MemoryBuffer::getMemBufferCopy(*s, name.str()).release());
    if (const json::Object *at = request.getObject("complete")) {
        std::vector<std::pair<std::string, std::string>> given;
        if (const json::Object *all = request.getObject("texts"))
            for (const auto &[name, text] : *all)
                if (const auto s = text.getAsString())
                    given.emplace_back(name.str(), s->str());
        const reader::Place place{file, unsigned(at->getInteger("line").getValueOr(1)),
                                  unsigned(at->getInteger("column").getValueOr(1))};
        return json::Object{{"completions", reader::completionsAt(words, given, place)}};
    }
    const auto containers = std::make_shared<PCHContainerOperations>();
    const IntrusiveRefCntPtr<DiagnosticsEngine> diagnostics =
        CompilerInstance::createDiagnostics(new DiagnosticOptions, new TextDiagnosticBuffer);
    const std::unique_ptr<ASTUnit> unit(ASTUnit::LoadFromCommandLine(
        words.data(), words.data() + words.size(), containers, diagnostics, PIPIT_CLANG_HEADERS, false,
        CaptureDiagsKind::All, texts, true, 0, TU_Complete, false, false, false,
        SkipFunctionBodiesScope::None, false, true));
    if (!unit)
        return json::Object{{"problem", "the arguments cannot be understood"}};
    json::Object out{{"messages", messagesOf(*unit)}};
    if (const json::Array *words = request.getArray("words")) {
        std::vector<int64_t> offsets;
        for (const json::Value &v : *words)
            offsets.push_back(v.getAsInteger().getValueOr(-1));
        out["meanings"] = reader::meaningsOf(*unit, offsets);
        return out;
    }
    reader::Facts facts(*unit, textsOf(request.getArray("own")));
    const std::vector<std::string> names = textsOf(request.getArray("names"));
    const auto at = request.getInteger("at");
    if (names.empty() && !at)
        return out;
    for (const FunctionDecl *f : facts.functions()) {
        const std::string name = f->getQualifiedNameAsString();
        if (at ? holds(f, *at, unit->getSourceManager())
               : std::find(names.begin(), names.end(), name) != names.end())
            facts.tell(f);
    }
    out["unit"] = facts.take();
    return out;
}

} // namespace

int main()
{
    const rlimit memory{rlim_t(1) << 30, rlim_t(1) << 30}, none{0, 0};
    setrlimit(RLIMIT_DATA, &memory);
    setrlimit(RLIMIT_CORE, &none);
    for (std::string line; std::getline(std::cin, line);) {
        json::Object reply;
        if (auto request = json::parse(line); request && request->getAsObject()) {
            reply = answer(*request->getAsObject());
        } else {
            llvm::consumeError(request.takeError());
            reply["problem"] = "the request is no JSON object";
        }
        llvm::outs() << json::Value(std::move(reply)) << '\n';
        llvm::outs().flush();
    }
}
