#include "reader/complete.h"

#include <clang/Frontend/CompilerInstance.h>
#include <clang/Frontend/FrontendActions.h>
#include <clang/Frontend/Utils.h>
#include <clang/Lex/PreprocessorOptions.h>
#include <clang/Sema/CodeCompleteConsumer.h>
#include <clang/Sema/Sema.h>

#include <algorithm>
#include <map>

using namespace clang;
namespace json = llvm::json;

namespace reader
{

namespace
{

struct Word {
    std::string word, type;
    unsigned priority = 0;
};

class Collector : public CodeCompleteConsumer
{
public:
    Collector(const CodeCompleteOptions &options, std::vector<Word> &words)
        : CodeCompleteConsumer(options), info_(std::make_shared<GlobalCodeCompletionAllocator>()),
          words_(words)
    {
    }
    CodeCompletionAllocator &getAllocator() override { return info_.getAllocator(); }
    CodeCompletionTUInfo &getCodeCompletionTUInfo() override { return info_; }

    void ProcessCodeCompleteResults(Sema &sema, CodeCompletionContext context, CodeCompletionResult *results,
                                    unsigned count) override
    {
        for (unsigned i = 0; i < count; ++i) {
            CodeCompletionResult &r = results[i];
            if (r.Hidden || r.Availability == CXAvailability_NotAccessible ||
                r.Availability == CXAvailability_NotAvailable)
                continue;
            const CodeCompletionString *text =
                r.CreateCodeCompletionString(sema, context, getAllocator(), info_, false);
            const char *typed = text ? text->getTypedText() : nullptr;
            if (!typed || !*typed || *typed == '~' || llvm::StringRef(typed).startswith("operator"))
                continue;
            Word word{typed, {}, r.Priority};
            for (const CodeCompletionString::Chunk &c : *text)
                if (c.Kind == CodeCompletionString::CK_ResultType)
                    word.type = c.Text;
            words_.push_back(std::move(word));
        }
    }

private:
    CodeCompletionTUInfo info_;
    std::vector<Word> &words_;
};

} // namespace

json::Array completionsAt(const std::vector<const char *> &words,
                          const std::vector<std::pair<std::string, std::string>> &texts, const Place &place)
{
    IntrusiveRefCntPtr<DiagnosticsEngine> quiet =
        CompilerInstance::createDiagnostics(new DiagnosticOptions, new IgnoringDiagConsumer);
    std::shared_ptr<CompilerInvocation> invocation = createInvocationFromCommandLine(words, quiet);
    json::Array out;
    if (!invocation)
        return out;
    FrontendOptions &options = invocation->getFrontendOpts();
    options.CodeCompletionAt = {place.file, place.line, place.column};
    options.SkipFunctionBodies = true;
    options.CodeCompleteOpts.IncludeMacros = 0;
    options.CodeCompleteOpts.IncludeCodePatterns = 0;
    options.CodeCompleteOpts.IncludeGlobals = 1;
    options.CodeCompleteOpts.IncludeNamespaceLevelDecls = 0;
    invocation->getHeaderSearchOpts().ResourceDir = PIPIT_CLANG_HEADERS;
    for (const auto &[name, text] : texts)
        invocation->getPreprocessorOpts().addRemappedFile(
            name, llvm::MemoryBuffer::getMemBufferCopy(text, name).release());
    std::vector<Word> found;
    CompilerInstance compiler;
    compiler.setInvocation(std::move(invocation));
    compiler.createDiagnostics(new IgnoringDiagConsumer, true);
    compiler.setCodeCompletionConsumer(new Collector(compiler.getFrontendOpts().CodeCompleteOpts, found));
    SyntaxOnlyAction action;
    compiler.ExecuteAction(action);
    std::stable_sort(found.begin(), found.end(),
                     [](const Word &a, const Word &b) { return a.priority < b.priority; });
    constexpr std::size_t most = 2000;
    std::map<std::string, bool> seen;
    for (const Word &w : found)
        if (out.size() < most && !std::exchange(seen[w.word], true))
            out.push_back(json::Object{{"word", w.word}, {"type", w.type}});
    return out;
}

} // namespace reader
