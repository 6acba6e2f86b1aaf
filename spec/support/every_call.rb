# frozen_string_literal: true

# Makes every call that there is, as whoever is signed in, and keeps nothing of what it does.
module EveryCall
  # Calls that end the session, or are of another kind than questions and changes.
  APART = %w[/api/recovery-auth /api/live /api/sign-out /api/sign-in /api/otp-setup /api/otp-auth /api/change-password
    /api/reset-password].freeze

  def operations = WebClient.contract.operations.reject { |one| APART.include?(one.path) }

  # Bodies of calls that would come to nothing with any that fits the description.
  BODIES = {
    "post /api/records" => ->(id) { {kind: "deal", values: {title: "Another", boat_owner: id}} },
    "post /api/records/{id}/interactions" => ->(_) { {way: "call", text: "Rang"} },
    "post /api/records/{id}/links" => ->(id) { {target: id} },
    "patch /api/records/{id}" => ->(id) { {values: {boat_owner: id, boat: id}, version: 1} },
    "post /api/tasks" => ->(id) { {title: "Ask", record_id: id} },
    "post /api/tasks/{id}/pass-on" => ->(_) { {queue: "callbacks"} },
    "post /api/tasks/{id}/put-off" => ->(_) { {due_on: "2026-12-01"} },
    "post /api/tasks/{id}/state" => ->(_) { {state: "waiting"} }
  }.freeze

  def body_for(operation, id)
    own = BODIES["#{operation.method} #{operation.path}"]
    own ? own.call(id) : Samples.body(operation, id)
  end

  MAY = %w[outside own members leads administrators seeing working changing taking_away].freeze

  # Makes a call and keeps nothing of what it did.
  def ask(method, path, body = nil)
    db.transaction(savepoint: true, rollback: :always) do
      bytes = method.to_s == "post" && path.match?(%r{/(?:files|papers/document|imports)\?})
      bytes ? send_file(path) : call(method, path, body)
    end
    root.forget
    expect(status).to be < 500, "#{method} #{path} broke: #{last_response.body}"
    last_response.body + last_response.headers.to_s
  end

  def send_file(path)
    header "X-CSRF-Token", csrf
    post path, {}, :input => "words", "CONTENT_TYPE" => "application/octet-stream"
  end

  def addresses(ids)
    kinds = root.schema.kinds.keys
    lists = kinds.flat_map do |kind|
      ["", "&search=zq", "&sort=title", "&where.owner=hollie%7Cosk"].map { |more| "/api/records?kind=#{kind}#{more}" }
    end
    people = %w[me all hollie callum tobias].flat_map do |who|
      ["", "&text=zq", "&state=done"].map { |more| "/api/worklist?who=#{who}#{more}" } +
        ["/api/worklist/coming?who=#{who}&days=30"]
    end
    rules = db[:rules].select_map(:id).flat_map do |id|
      ["/api/trail?rule=#{id}&result=all", "/api/rules/#{id}/timers", "/api/trail?result=failed&rule=#{id}"]
    end
    entries = db[:journal].where(what: %w[record_changed linked put_on_list]).select_map(:id)
    why = some(entries.product(db[:rules].select_map(:id)), 40).map { |entry, rule|
      "/api/trail/why-not?entry=#{entry}&rule=#{rule}"
    }
    records = ids.flat_map { |id|
      ["/api/trail?record=#{id}&result=all", "/api/copies?record=#{id}", "/api/worklist?who=all&record=#{id}"]
    }
    ["/api/find?text=zq", "/api/worklist?who=all&queue=yard_work", "/api/trail?days=30", "/api/team?by=person",
      "/api/queues", *lists, *people, *rules, *records, *why]
  end

  # @return [Array] so many, from one end to the other
  def some(all, most) = all.each_slice([all.size / most, 1].max).map(&:first)

  # Numbers of all that a path may name.
  def numbers(ids)
    tables = {tasks: "tasks", runs: "runs", attachments: "tasks/files", kit_copies: "copies", kits: "kits"}
    of_records = db[:attachments].exclude(record_id: nil).select_map(:id)
    tables.to_h { |table, path| ["/api/#{path}/{id}", db[table].select_map(:id)] }
      .merge("/api/records/{id}" => ids, "/api/records/files/{id}" => of_records)
  end

  # Calls everything as whoever is signed in.
  # @param words [Hash{Integer => String}] what must not be heard, by record
  # @return [Hash{String => Array}] where some was heard, and of what
  def heard_of(words, all)
    told = Hash.new { |heard, where| heard[where] = [] }
    look = ->(where, text) { words.each { |id, word| told[where] << id if text.include?(word) } }
    addresses(all).each { |path| look.call("get #{path}", ask(:get, path)) }
    known = numbers(all)
    operations.each do |one|
      start = known.keys.select { |path| one.path.start_with?(path) }.max_by(&:size)
      # All that can be looked at is looked at; of what can be changed some.
      which = start ? known[start] : all.first(2)
      which = some(which, 4) if start && one.method != "get"
      body = body_for(one, words.keys.first)
      which.each do |number|
        look.call("#{one.method} #{one.path} #{number}", ask(one.method, Samples.path(one, number), body))
      end
    end
    told.reject { |_, ids| ids.empty? }
  end
end
