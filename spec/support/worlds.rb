# frozen_string_literal: true

# What every world is held to: it knows each verb of the closed list.
# @param type [Class]
RSpec.shared_examples "a world" do |type|
  Yenvo::Core::Effects.verbs.each do |verb|
    it "knows how to #{verb}" do
      known = type.public_method_defined?(verb) && type.public_instance_method(verb).arity == 1
      expect(known).to be(true), "#{type} does not know the verb #{verb}; give it a method of that name that takes " \
        "the effect and gives what it did."
    end
  end
end

# An example of each action, as it stands in a rule about a deal behind a task that is made first.
module WorldExamples
  ACTIONS = {
    "task" => {"title" => "Look at {{ record.title }}", "assign" => {"to" => "queue", "queue" => "yard_work"}},
    "set" => {"values" => [{"field" => "value", "value" => 5}]},
    "assign" => {"assign" => {"to" => "person", "person" => "wen"}},
    "give" => {"assign" => {"to" => "person", "person" => "tobias"}},
    "move" => {"to" => "accepted"},
    "list" => {"put" => "on", "list" => "launch_roster"},
    "record" => {"kind" => "ticket", "values" => [{"field" => "title", "text" => "Snag"}]},
    "log" => {"way" => "call", "text" => "Rang about {{ record.title }}"},
    "tasks" => {"which" => {"all" => []}, "priority" => "urgent"},
    "notice" => {"assign" => {"to" => "person", "person" => "wen"}, "text" => "Look"},
    "mail" => {
      "receivers" => [{"to" => "person", "person" => "wen"}], "subject" => "About {{ record.title }}", "text" => "Look"
    },
    "board" => {"address" => "yard_board", "text" => "Look at {{ record.title }}"},
    "call" => {"address" => "office"},
    "paper" => {"document" => {"key" => "quote_for_work"}, "name" => "Quote {{ record.title }}"},
    "comment" => {"text" => "@wen, look at {{ record.title }}"},
    "kit" => {"kit" => "lost-deal-tidy-up"},
    "wait" => {"for" => {"count" => 2, "unit" => "days", "from" => "now"}},
    "ladder" => {"steps" => [{"after" => {"count" => 1, "unit" => "days", "from" => "made"}, "do" => "remind"}]}
  }.freeze

  # @return [Hash] the action as in a rule file
  def self.of(name)
    settings = ACTIONS.fetch(name) do
      raise "No example of the action #{name} goes through the worlds: add one to spec/support/worlds.rb, so that it " \
        "is carried out, thought and taken back like all others."
    end
    {"action" => name, **settings}
  end
end
