# frozen_string_literal: true

RSpec.describe "Access" do
  include MarkedHouse

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

  # Who sees a record, said anew here.
  def sees?(person, places)
    teams = ->(key) { root.schema.person(key)&.teams.to_a }
    places.all? do |kind, owner|
      mates = person[:key] == owner || (teams.call(person[:key]) & teams.call(owner)).any?
      case root.schema.kind(kind).seen_by
      when "everyone" then true
      when "team" then mates
      when "owner" then person[:key] == owner || (person[:role] == "lead" && mates)
      else false
      end
    end
  end

  # Makes a call and keeps nothing of what it did.
  def ask(method, path, body = nil)
    db.transaction(savepoint: true, rollback: :always) do
      path.include?("/files?") ? send_file(path) : call(method, path, body)
    end
    root.forget
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
    why = entries.product(db[:rules].select_map(:id)).map { |entry, rule| "/api/trail/why-not?entry=#{entry}&rule=#{rule}" }
    records = ids.flat_map { |id| ["/api/trail?record=#{id}&result=all", "/api/copies?record=#{id}", "/api/worklist?who=all&record=#{id}"] }
    ["/api/find?text=zq", "/api/worklist?who=all&queue=yard_work", "/api/trail?days=30", "/api/team?by=person",
      "/api/queues", *lists, *people, *rules, *records, *why]
  end

  # Numbers of all that a path may name.
  def numbers(ids)
    tables = {tasks: "tasks", runs: "runs", attachments: "tasks/files", kit_copies: "copies", kits: "kits"}
    tables.to_h { |table, path| ["/api/#{path}/{id}", db[table].select_map(:id)] }.merge("/api/records/{id}" => ids)
  end

  def words_for(person, hidden, all)
    told = Hash.new { |heard, where| heard[where] = [] }
    look = lambda do |where, text|
      hidden.each { |id| told["#{person} #{where}"] << id if text.include?(mark(id)) }
    end
    addresses(all).each { |path| look.call("get #{path}", ask(:get, path)) }
    known = numbers(all)
    operations.each do |one|
      start = known.keys.select { |path| one.path.start_with?(path) }.max_by(&:size)
      (start ? known[start].each_slice([known[start].size / 8, 1].max).map(&:first) : all.first(2)).each do |number|
        told_body = body_for(one, (hidden & all).first || number)
        look.call("#{one.method} #{one.path} #{number}", ask(one.method, Samples.path(one, number), told_body))
      end
      next unless start && one.method == "get"

      known[start].each { |number| look.call("#{one.path} #{number}", ask(:get, Samples.path(one, number))) }
    end
    told.reject { |_, ids| ids.empty? }
  end

  [
    {"contact" => "everyone", "deal" => "team", "ticket" => "owner", "entry/launch_roster" => "everyone"},
    {"contact" => "administrators", "deal" => "everyone", "ticket" => "team", "entry/launch_roster" => "owner"},
    {"contact" => "owner", "deal" => "owner", "ticket" => "everyone", "entry/launch_roster" => "team"}
  ].each do |levels|
    it "lets no word of a hidden record out, where #{levels.map { |kind, level| "#{kind}: #{level}" }.join(", ")}" do
      places = fill_house(%w[hollie callum tobias])
      levels.each { |kind, level| let_see(kind, level) }
      %w[osk tobias].each do |key|
        person = {key:, role: root.people.find(key)[:role]}
        hidden = places.keys.reject { |id| sees?(person, places[id]) }
        sign_in(key)
        seen = places.keys - hidden
        expect([hidden, seen]).to all(be_any)
        expect(words_for(key, hidden, places.keys)).to eq({})
        news = db[:journal].select_map(%i[id record_id task_id])
        heard = Yenvo::Store::Onlookers.new(root).share(news, [key])[key].filter_map { |row| row[1] }
        expect([heard & hidden, seen - heard]).to eq([[], []])
        expect(seen.select { |id| ask(:get, "/api/records/#{id}").include?(mark(id)) }).to eq(seen)
      end
    end
  end

  describe "of each call, as the description says it (x-may)" do
    MAY = %w[outside own members leads administrators seeing working changing taking_away].freeze

    def statuses(wanted, person, numbers)
      person ? sign_in(person) : clear_cookies && @token = nil
      operations.select { |one| wanted.include?(one.plain["x-may"]) }.to_h do |one|
        start = numbers.keys.select { |path| one.path.start_with?(path) }.max_by(&:size)
        number = numbers.fetch(start || "/api/records/{id}")
        ask(one.method, Samples.path(one, number), body_for(one, number))
        ["#{one.method} #{one.path}", status]
      end
    end

    # One of each thing that a path may name, of one record.
    def of_record(id)
      run = db[:runs].where(record_id: id).min(:id)
      task = db[:tasks].where(record_id: id).exclude(queue: nil).min(:id)
      copy = db[:kit_copies].where(record_id: id).min(:id)
      file = db[:attachments].where(task_id: db[:tasks].where(record_id: id).select(:id)).min(:id)
      {"/api/records/{id}" => id, "/api/tasks/{id}" => task, "/api/tasks/files/{id}" => file, "/api/runs/{id}" => run,
       "/api/copies/{id}" => copy, "/api/rules/{id}" => db[:rules].min(:id), "/api/kits/{id}" => db[:kits].min(:id)}
    end

    it "is said of all, and holds for those signed out and for each role" do
      fill_house(%w[hollie tobias])
      numbers = of_record(db[:records].where(kind: "deal", owner: "hollie").get(:id))
      operations.each { |one| expect(MAY).to include(one.plain["x-may"]), "#{one.method} #{one.path} says no x-may" }
      expect(statuses(MAY - %w[outside], nil, numbers).reject { |_, found| found == 401 }).to eq({})
      expect(statuses(%w[outside], nil, numbers).select { |_, found| found == 401 }).to eq({})
      %w[osk tobias].each do |person|
        expect(statuses(%w[administrators], person, numbers).reject { |_, found| found == 403 }).to eq({})
      end
      expect(statuses(%w[leads], "osk", numbers).reject { |_, found| found == 403 }).to eq({})
      expect(statuses(%w[members], "osk", numbers).select { |_, found| [401, 403].include?(found) }).to eq({})
      expect(statuses(%w[leads], "tobias", numbers).select { |_, found| [401, 403].include?(found) }).to eq({})
      expect(statuses(MAY - %w[own], "maren", numbers).select { |_, found| [401, 403].include?(found) }).to eq({})
    end

    it "comes to nothing there where a record is hidden, and says who may where it is only seen" do
      fill_house(%w[hollie tobias])
      deal = db[:records].where(kind: "deal", owner: "tobias").get(:id)
      numbers = of_record(deal)
      let_see("deal", "everyone", changed: "team", taken: "team")
      found = statuses(%w[changing], "osk", numbers).reject { |name, _| name == "post /api/records" }
      expect(found.values.uniq).to eq([403])
      expect(statuses(%w[seeing], "osk", numbers).select { |_, status| status == 403 }).to eq({})
      let_see("deal", "team")
      of_it = %w[/records/{id} /tasks/{id} /tasks/files /runs /copies/{id}]
      hidden = statuses(%w[seeing working changing taking_away own], "osk", numbers)
      hidden.select! { |name, _| of_it.any? { |path| name.include?(path) } }
      expect([hidden.size > 25, hidden.reject { |_, status| status == 404 }]).to eq([true, {}])
      let_see("deal", "everyone", changed: "administrators", taken: "administrators")
      expect(statuses(%w[changing], "osk", numbers).values.uniq).to eq([403])
    end
  end
end
