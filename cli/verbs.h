// The verbs of `pipit`: each registers itself with its options and what it does.
//
// Exit codes: 0 fine, 1 findings or failed expectations, 2 cannot. A verb's function returns it.
#pragma once

#include "core/base/result.h"

#include <CLI/CLI.hpp>
#include <QJsonArray>
#include <QJsonObject>

#include <functional>

namespace pipit::cli
{

constexpr int fine = 0, findings = 1, cannot = 2;

struct Registry {
    CLI::App app{
        "Connect widget events to handlers, trace how they are dispatched, keep the interface responsive."};
    std::function<int()> chosen; // what the parsed verb will do
};

void addProjectVerbs(Registry &r);
void addWiringVerbs(Registry &r);
void addRunVerbs(Registry &r);
void addRecordingVerbs(Registry &r);

int fail(const Problem &problem); // prints it, returns 2
void print(const QString &text);  // a line on standard output
void printJson(const QJsonArray &rows);
void printJson(const QJsonObject &object);
QString q(const std::string &s);

} // namespace pipit::cli
