// The verbs of `pipit`: each is a type that declares its words and says what it does.
//
// Exit codes: 0 fine (hints alone are fine), 1 findings or failed expectations, 2 cannot. A verb's `run`
// returns it.
#pragma once

#include "core/base/result.h"

#include <QJsonArray>
#include <QJsonObject>
#include <QStringList>

#include <functional>
#include <memory>

namespace CLI
{
class App;
}

namespace pipit::cli
{

constexpr int fine = 0, findings = 1, cannot = 2;

// What a verb takes, told to the parser. A word in capitals goes by its place, one with dashes by its
// name. What is declared must live until the verb has run.
class Words
{
public:
    explicit Words(CLI::App *app) : app_(app) {}

    enum Need { Needed, MayBeLeftOut };
    void word(const char *name, QString &into, Need need, const char *help = "");
    void oneOf(const char *name, QString &into, Need need, const QStringList &allowed, const char *help = "");
    void list(const char *name, QStringList &into, Need need, const char *help = "");
    void number(const char *name, double &into, const char *help);
    void whole(const char *name, int &into, int least, int most, const char *help);
    void flag(const char *name, bool &into, const char *help = "");
    // Everything from the first plain word on belongs to the last list.
    void restIsList();

private:
    CLI::App *app_;
};

class Registry
{
public:
    Registry();
    ~Registry();

    // A Verb has `void takes(Words &)` and `int run() const`.
    template <class Verb> void add(const char *name, const char *help, const char *example)
    {
        auto verb = std::make_shared<Verb>();
        Words words = begin(name, help, example, [verb] { return verb->run(); });
        verb->takes(words);
    }
    bool has(const QString &verb) const;
    // Parses and runs what was chosen.
    int run(int argc, char **argv);

private:
    Words begin(const char *name, const char *help, const char *example, std::function<int()> run);

    std::unique_ptr<CLI::App> app_;
    std::function<int()> chosen_; // what the parsed verb will do
};

void addProjectVerbs(Registry &r);
void addComposingVerbs(Registry &r);
void addCatalogVerb(Registry &r);
void addWiringVerbs(Registry &r);
void addShapeVerb(Registry &r);
void addRunVerbs(Registry &r);
void addRecordingVerbs(Registry &r);
void addPaceVerbs(Registry &r);
void addWhyVerbs(Registry &r);
void addExportVerbs(Registry &r);

int fail(const Problem &problem); // prints it, returns 2
void print(const QString &text);  // a line on standard output
void printJson(const QJsonArray &rows);
void printJson(const QJsonObject &object);

} // namespace pipit::cli
