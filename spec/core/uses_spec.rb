# frozen_string_literal: true

# What a rule leans on in the set-up, so that nobody takes it away unawares.
RSpec.describe Yenvo::Core::Uses do
  def uses(*actions)
    rule = {
      "format" => Yenvo::Core::Rule::FORMAT, "name" => "Leans", "record" => "deal",
      "trigger" => {"when" => "record_made"},
      "branches" => [{"do" => actions.map { |one| one.transform_keys(&:to_s) }}]
    }
    described_class.of(Yenvo::Core::RuleReader.read!(rule), a_schema).to_a
  end

  it "finds persons and queues in the conditions that choose tasks" do
    which = {
      "all" => [{"field" => "assignee", "test" => "is", "value" => "wen"},
        {"field" => "queue", "test" => "is", "value" => "callbacks"}]
    }
    expect(uses({action: "tasks", which:, state: "dropped"})).to include("person wen", "queue callbacks")
  end

  it "finds what each action takes, by the kind of its settings" do
    wen = {"to" => "person", "person" => "wen"}
    found =
      uses(
        {action: "set", values: [{"field" => "value", "formula" => "=value * 2"}]},
        {action: "move", to: "quoted"}, {action: "list", put: "on", list: "launch_roster", section: "ashore"},
        {action: "notice", assign: wen, text: "{{ record.owner }}, {{ record.title }}"},
        {
          action: "wait", until: {"all" => [{"field" => "stage", "test" => "is", "value" => "accepted"}]},
          limit: {"count" => 9, "unit" => "days", "from" => "now"}
        },
        {action: "kit", kit: "launch"},
        {action: "record", kind: "ticket", values: [{"field" => "title", "text" => "x"}]}
      )
    expect(found).to include(
      "field deal value", "stage deal quoted", "kind entry/launch_roster",
      "stage entry/launch_roster ashore", "person wen", "field deal owner", "field deal title", "stage deal accepted",
      "kit launch", "kind ticket", "field ticket title"
    )
  end
end
