# frozen_string_literal: true

# A house in which every record has a word of its own in all that hangs on it, so that it can be told wherever words
# of it come to light.
module MarkedHouse
  # @return [String] the word of a record
  def mark(id) = "zq#{id}qz"

  # Sets who sees what, and which fields are kept.
  def let_see(kind, level, kept: [], changed: level, taken: level)
    given = {"seen_by" => level, "changed_by" => changed, "taken_away_by" => taken, "kept" => kept}
    Yenvo::Store::AccessChanges.new(root).change(kind, given, cause: cause("maren"))
    root.forget
  end

  # Makes records of several owners and lets rules, kits, people and timers do something with each.
  # @param owners [Array<String>]
  # @param carrying [Boolean] whether rules fill words of one record in where another is read
  # @return [Hash{Integer => Array}] by record: kinds and owners of all that has to be seen to see it
  def fill_house(owners, carrying: false)
    @places = {}
    publish_marking_rules
    publish_carrying_rule if carrying
    publish_demo_kit("11-rigging-job")
    kit = publish_demo_kit("12-launch")
    contacts = owners.map { |owner| marked("contact", owner, "club" => "%s") }
    deals = owners.zip(contacts.rotate).map { |owner, about| marked("deal", owner, "boat_owner" => about) }
    tickets = owners.rotate.zip(deals).map { |owner, boat| marked("ticket", owner, "boat" => boat, "found" => "%s") }
    deals.zip(tickets.rotate) { |one, other| root.links.add(one, other, cause:) }
    deals.each { |deal| on_list(deal) }
    [*contacts, *deals, *tickets].each { |id| hang_words_on(id) }
    deals.each { |id| change(id, {"stage" => "survey_booked"}) }
    deals.each { |id| root.copies.begin(root.kits.compiled(kit[:version_id]), id, cause:) }
    work
    @places
  end

  private

  def marked(kind, owner, given = {})
    id = make(kind, {**given.reject { |_, value| value == "%s" }, "owner" => owner})["id"]
    texts = given.select { |_, value| value == "%s" }.transform_values { mark(id) }
    change(id, {"title" => "#{mark(id)} boat", **texts})
    @places[id] = [[kind, owner]]
    id
  end

  def on_list(deal)
    entry = root.list_entries.put_on(deal, "entry/launch_roster", cause:)["id"]
    @places[entry] = [["entry/launch_roster", root.records.find!(entry)["owner"]], *@places[deal]]
    change(entry, {"title" => "#{mark(entry)} launch"})
    gone = root.list_entries.put_on(deal, "entry/survey_requests", cause:)["id"] if takes?(deal)
    root.list_entries.take_off(gone, cause:) if gone
  end

  def takes?(_deal) = root.schema.kind("entry/survey_requests").about&.links_to == "deal"

  def hang_words_on(id)
    words = mark(id)
    root.interactions.log(id, "call", "#{words} said so", cause:)
    task = root.tasks.make({"title" => "#{words} by hand", "record_id" => id, "assignee" => "maren"}, cause:)
    root.comments.add(task[:id], "#{words} comment", cause:)
    root.attachments.add({task_id: task[:id]}, "#{words}.txt", "#{words} text", cause:)
    root.attachments.add({record_id: id}, "#{words} at it.txt", "#{words} text", cause:)
    above = root.tasks.make({"title" => "#{words} waits", "record_id" => id, "queue" => "yard_work"}, cause:)[:id]
    root.tasks.make({"title" => "A part", "parent_id" => above, "queue" => "yard_work"}, cause:)
    root.tasks.finish(task[:id], note: "#{words} done", cause: cause("maren"))
    root.notices.add(Yenvo::Store::People.new(root).all.map { |one| one[:key] }, "#{words} told", at: Database::NOW,
      record_id: id)
  end

  def publish_carrying_rule
    mixed = "{{ record.title }}, {{ record.boat_owner }}, {{ record.boat_owner.club | upcase }}"
    to = {"assign" => {"to" => "queue", "queue" => "callbacks"}}
    publish(
      "name" => "Carries words", "trigger" => {"when" => "stage_entered", "stages" => ["survey_booked"]},
      "branches" => [{
        "do" => [
          {"action" => "task", "title" => "One: #{mixed}", **to},
          {"action" => "task", "title" => "Two: #{mixed}", "of" => "boat_owner", **to},
          {"action" => "log", "way" => "note", "text" => "Three: #{mixed}", "of" => "boat_owner"},
          {
            "action" => "set", "of" => "boat_owner", "values" => [{"field" => "phone", "text" => "+353 1 2345678"},
              {"field" => "berth", "text" => "Four: #{mixed}"}]
          },
          {
            "action" => "record", "kind" => "ticket", "link" => "boat", "values" => [
              {"field" => "title", "text" => "Five: #{mixed}"}, {"field" => "owner", "value" => "callum"}
            ]
          }
        ]
      }]
    )
  end

  def publish_marking_rules
    publish(survey_rule)
    publish(
      "name" => "Ring the owner of the boat", "trigger" => {"when" => "stage_entered", "stages" => ["survey_booked"]},
      "branches" => [
        {
          "if" => {
            "all" => [{"field" => "boat_owner", "test" => "is_filled_in"},
              {"field" => "boat_owner.club", "test" => "is_filled_in"}]
          },
          "do" => [
            {"action" => "set", "of" => "boat_owner", "values" => [{"field" => "berth", "value" => "3"}]},
            {
              "action" => "notice", "assign" => {"to" => "owner"},
              "fallback" => {"to" => "person", "person" => "maren"},
              "text" => "Seen: {{ record.title }}"
            }
          ]
        }
      ]
    )
    task = {
      "action" => "task", "title" => "Wake {{ record.title }}", "assign" => {"to" => "owner"},
      "fallback" => {"to" => "queue", "queue" => "callbacks"}
    }
    quiet = {"count" => 3, "unit" => "working_days"}
    publish(
      "name" => "Quiet boat", "how_often" => "every_time", "branches" => [{"do" => [task]}],
      "trigger" => {"when" => "quiet_timer", "nothing" => ["contact"], "span" => quiet, "at" => "09:00"}
    )
  end
end
