# frozen_string_literal: true

RSpec.describe "Access" do
  include MarkedHouse
  include EveryCall

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

  describe "lets no word of a hidden record out", :slow do
    set_up_once("a house of marked words") { @marked = fill_house(%w[hollie callum tobias]) }

    [
      {"contact" => "everyone", "deal" => "team", "ticket" => "owner", "entry/launch_roster" => "everyone"},
      {"contact" => "administrators", "deal" => "everyone", "ticket" => "team", "entry/launch_roster" => "owner"},
      {"contact" => "owner", "deal" => "owner", "ticket" => "everyone", "entry/launch_roster" => "team"}
    ].each do |levels|
      it "where #{levels.map { |kind, level| "#{kind}: #{level}" }.join(", ")}" do
        let_out_nothing(@marked, %w[osk tobias]) { levels.each { |kind, level| let_see(kind, level) } }
      end
    end
  end

  it "keeps rules from carrying words where they would be read by somebody who does not see what they are of", :slow do
    let_see("contact", "team")
    let_see("deal", "owner")
    places = fill_house(%w[hollie callum tobias], carrying: true)
    expect(db[:tasks].where(title: /One: zq\d+qz boat, \(not for all who read this\)/).count).to be_positive
    let_out_nothing(places, %w[osk callum])
  end

  it "keeps fields for leads and administrators, and what rules say of them", :slow do
    fill_house(%w[hollie callum], carrying: true)
    let_see("contact", "everyone", kept: %w[club])
    let_see("deal", "everyone", kept: %w[value])
    contacts = db[:records].where(kind: "contact").select_map(:id)
    words = contacts.to_h { |id| [id, "kq#{id}qk"] }
    words.each { |id, word| change(id, {"club" => word}) }
    deals = db[:records].where(kind: "deal").select_map(:id)
    deals.each { |id| change(id, {"stage" => "quoted", "value" => "7351.37"}) }
    publish(
      "name" => "Of value", "trigger" => {"when" => "stage_entered", "stages" => ["survey_booked"]},
      "only_if" => {"all" => [{"field" => "value", "test" => "more", "value" => 7000}]},
      "branches" => [{
        "do" => [
          {"action" => "set", "values" => [{"field" => "value", "value" => 7351.38}]},
          {
            "action" => "task", "title" => "{{ record.value }} of {{ record.boat_owner.club }}",
            "assign" => {"to" => "queue", "queue" => "callbacks"}
          }
        ]
      }]
    )
    deals.each { |id| change(id, {"stage" => "survey_booked"}) }
    work(at: Database::NOW + 1)
    money = {deals[0] => "7351.3", deals[1] => "7,351.3"}
    sign_in("osk")
    expect(heard_of(words, contacts + deals)).to eq({})
    expect(heard_of(money, contacts + deals)).to eq({})
    expect(call(:patch, "/api/records/#{deals[0]}", values: {"value" => "3"})["fields"]).to eq(
      "value" => 'A deal has no field "value".'
    )
    expect(get_json("/api/records?kind=deal&sort=value")["error"]).to match(/no field "value" to sort by/)
    expect(get_json("/api/records?kind=deal&from.value=1")["error"]).to match(/no number or date "value"/)
    sign_in("tobias")
    expect(get_json("/api/records/#{contacts[0]}")["record"]["values"]["club"]).to eq(words[contacts[0]])
    expect(get_json("/api/trail?days=30")["runs"].map { |run| run["why"] }.join).to include("7,351")
  end

  def let_out_nothing(places, persons)
    yield if block_given?
    persons.each do |key|
      person = {key:, role: root.people.find(key)[:role]}
      hidden = places.keys.reject { |id| sees?(person, places[id]) }
      sign_in(key)
      seen = places.keys - hidden
      expect([hidden, seen]).to all(be_any)
      expect([key, heard_of(hidden.to_h { |id| [id, mark(id)] }, places.keys)]).to eq([key, {}])
      news = db[:journal].select_map(%i[id record_id task_id])
      heard = Yenvo::Store::Onlookers.new(root).share(news, [key])[key].filter_map { |row| row[1] }
      expect([heard & hidden, seen - heard]).to eq([[], []])
      expect(seen.select { |id| ask(:get, "/api/records/#{id}").include?(mark(id)) }).to eq(seen)
    end
  end

  describe "of each call, as the description says it (x-may)" do
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
      own = db[:attachments].where(record_id: id).min(:id)
      {
        "/api/records/{id}" => id, "/api/tasks/{id}" => task, "/api/tasks/files/{id}" => file, "/api/runs/{id}" => run,
        "/api/records/files/{id}" => own,
        "/api/copies/{id}" => copy, "/api/rules/{id}" => db[:rules].min(:id), "/api/kits/{id}" => db[:kits].min(:id)
      }
    end

    it "is said of all, and holds for those signed out and for each role" do
      fill_house(%w[hollie tobias])
      numbers = of_record(db[:records].where(kind: "deal", owner: "hollie").get(:id))
      operations.each do |one|
        expect(EveryCall::MAY).to include(one.plain["x-may"]), "#{one.method} #{one.path} says no x-may"
      end
      expect(statuses(EveryCall::MAY - %w[outside], nil, numbers).reject { |_, found| found == 401 }).to eq({})
      expect(statuses(%w[outside], nil, numbers).select { |_, found| found == 401 }).to eq({})
      %w[osk tobias].each do |person|
        expect(statuses(%w[administrators], person, numbers).reject { |_, found| found == 403 }).to eq({})
      end
      expect(statuses(%w[leads], "osk", numbers).reject { |_, found| found == 403 }).to eq({})
      expect(statuses(%w[members], "osk", numbers).select { |_, found| [401, 403].include?(found) }).to eq({})
      expect(statuses(%w[leads], "tobias", numbers).select { |_, found| [401, 403].include?(found) }).to eq({})
      expect(statuses(EveryCall::MAY - %w[own], "maren", numbers).select { |_, found|
        [401, 403].include?(found)
      }).to eq({})
    end

    it "comes to nothing there where a record is hidden, and says who may where it is only seen" do
      fill_house(%w[hollie tobias])
      deal = db[:records].where(kind: "deal", owner: "tobias").get(:id)
      numbers = of_record(deal)
      let_see("deal", "everyone", changed: "team", taken: "team")
      found = statuses(%w[changing], "osk", numbers).except("post /api/records")
      expect(found.values.uniq).to eq([403])
      expect(statuses(%w[seeing], "osk", numbers).select { |_, status| status == 403 }).to eq({})
      let_see("deal", "team")
      of_it = %w[/records/{id} /records/files /tasks/{id} /tasks/files /runs /copies/{id}]
      hidden = statuses(%w[seeing working changing taking_away own], "osk", numbers)
      hidden.select! { |name, _| of_it.any? { |path| name.include?(path) } }
      expect([hidden.size > 25, hidden.reject { |_, status| status == 404 }]).to eq([true, {}])
      files = numbers.values_at("/api/records/files/{id}", "/api/tasks/files/{id}")
      said = %w[records tasks].zip(files).map { |of, file| get_json("/api/#{of}/files/#{file}")["error"] }
      expect(said).to all(eq("There is no such file."))
      let_see("deal", "everyone", changed: "administrators", taken: "administrators")
      expect(statuses(%w[changing], "osk", numbers).values.uniq).to eq([403])
    end
  end
end
