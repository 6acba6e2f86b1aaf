# frozen_string_literal: true

require_relative "names"
require_relative "agenda"
require_relative "outgoing"
require_relative "post"

module Demo
  # Six months at the yard, lived through Yenvo's own saves with the rules on and the clock set back, so that the
  # trail and the answer times are real. The same day of loading always gives the same story.
  class Story
    DAYS = 182
    DEAL_WAY = %w[quoted survey_booked accepted in_the_yard afloat].freeze
    TICKET_WAY = %w[looked_at in_hand waiting fixed closed].freeze
    SALES = %w[hollie hollie maren osk].freeze

    # @param root [Yenvo::Store::Root] set up, rules published
    # @param now [Time] the moment of loading
    # @param passing [Yenvo::Engine::Passing, nil] lets time pass, with all that comes due on the way
    def initialize(root, now:, passing: nil, seed: 20)
      @root = root
      @now = now
      @passing = passing
      @outgoing = Outgoing.new(root, ends: now)
      @post = Post.new(root)
      @passed = now - ((DAYS + 4) * 86_400)
      @calendar = root.calendar
      @today = @calendar.zone.date_of(now)
      @chance = Random.new(seed)
      @agenda = Agenda.new
      @last_task = 0
      @last_message = 0
    end

    # @return [Integer] steps that happened
    def live
      contacts = owners
      deals(contacts)
      tickets
      answers
      lists
      quiet_deals
      lay_up
      written_twice
      go_through
    end

    # The story of one deal alone, for looking at its order.
    def quiet_hour_alone
      contact = owner(Names.owners.first, 0)
      @deals = [deal(Names.boats.first, 0, [contact])]
      quiet_hour
      @agenda.run(till: @now) { |_| nil }
    end

    private

    # @return [Integer] steps that happened
    def go_through
      steps = @agenda.run(till: @now, before: ->(at) { pass_to(at) }) { |at| settle(at + 0.041) }
      pass_to(@now)
      settle(@now)
      steps
    end

    # What comes due on the way, and what people then do with the tasks.
    def pass_to(at)
      return if at < @passed

      while (due = @outgoing.due_first(at))
        go_on_to([due, @passed].max)
        break if @outgoing.deliver(due).zero?
      end
      go_on_to(at)
    end

    def go_on_to(at)
      @passing.go_through(from: @passed, to: at) { |moment| look_at_tasks(moment) }
      @passed = at
    end

    def settle(at)
      @passing.settle(at)
      look_at_tasks(at)
    end

    def look_at_tasks(at)
      fresh = @root.db[:tasks].where(Sequel[:id] > @last_task).order(:id).all
      fresh.each { |task| plan_answer(task, at) }
      @last_task = fresh.last[:id] if fresh.any?
      look_at_messages(at)
    end

    # Messages that wait for whoever caused them are sent within the hours after, but for those of today.
    def look_at_messages(at)
      fresh = @root.db[:proposals].exclude(message: nil).where(state: "open").where {
        id > @last_message
      }.order(:id).all
      fresh.each do |row|
        sends = @calendar.add_working_minutes(at, 5 + (row[:id] % 90))
        message = ->(now) { @root.proposals.send_message(row[:id], {}, cause: by(row[:person], now)) }
        @agenda.add(sends) { |now| message.call(now) if open?(row[:id]) }
      end
      @last_message = fresh.last[:id] if fresh.any?
    end

    def open?(proposal) = @root.db[:proposals].where(id: proposal, state: "open").any?

    def plan_answer(task, made)
      due = (task[:due_at].year > 9000) ? made + (5 * 86_400) : task[:due_at]
      return if Names::LEFT_OPEN.include?(task[:title])
      # Nobody comes to the call about the first deal, so that its ladder is climbed.
      return if task[:record_id] == @deals[0][:id] && task[:title] == Names::NOBODY_COMES_TO
      return if @chance.rand < 0.12 && made > @now - (12 * 86_400)

      finish = @calendar.add_working_minutes([made, due - (@chance.rand * 3 * 86_400)].max, @chance.rand(20..400))
      person =
        task[:assignee] ||
        @root.db[:people].where(team: task[:team], active: true).select_order_map(:key).sample(random: @chance)
      @agenda.add(finish) { |at| answer(task[:id], person, at) }
    end

    def answer(id, person, at)
      task = @root.tasks.find!(id)
      return unless task[:open]

      @root.tasks.take(id, cause: by(person, at)) unless task[:assignee]
      return @root.tasks.drop(id, note: "No longer needed.", cause: by(person, at)) if @chance.rand < 0.03

      answers = JSON.parse(task[:answers])
      if answers.any?
        @root.tasks.finish(id, answer: answers[@chance.rand(3).clamp(0, answers.size - 1)], cause: by(person, at))
      end
      if answers.empty?
        @root.tasks.finish(
          id, note: (@chance.rand < 0.2) ? Names::NOTES.sample(random: @chance) : nil, cause: by(person, at)
        )
      end
    end

    def by(person, at) = Yenvo::Store::Journal::Cause.person(person, at)

    # @return [Time] in the working time of a day so many days before the day of loading
    def moment(days_ago) = @calendar.zone.at(@calendar.roll(@today - days_ago, "earlier"), @chance.rand(485..1045))

    def some(list) = list.sample(random: @chance)
    def day(from, range) = (from + @chance.rand(range)).iso8601

    def make(at, kind, person, values, &kept)
      came = person ? nil : {"door" => "message"}
      @agenda.add(at) do |now|
        (id = @root.records.make(kind, values.compact, cause: by(person, now), came:)["id"]) && kept&.call(id)
      end
    end

    def change(at, person, id, &values)
      @agenda.add(at) { |now| @root.records.change(id.call, values.call(now), cause: by(person, now)) }
    end

    def owners = Names.owners.each_with_index.map { |name, index| owner(name, index) }

    def owner(name, index)
      ago = (index < 150) ? DAYS + 2 : @chance.rand(30..DAYS)
      box = {}
      country =
        (index.zero? || @chance.rand < 0.55) ? "ireland" : some(%w[france france norway spain netherlands iceland])
      values = {
        "title" => name, "phone" => format("+353 555 %04d", 100 + index),
        "email" => "#{name.downcase.tr(" ", ".")}@post.example", "country" => country,
        "adviser" => some(%w[hollie osk maren]), "club" => some(Names::CLUBS),
        "stage" => some(%w[customer customer asking]), "cover_expires" => (day(@today, -60..300) if @chance.rand < 0.8)
      }
      make(moment(ago), "contact", some(SALES), values) { |id| box[:id] = id }
      berth(box, moment([ago - @chance.rand(10..60), 1].max)) if @chance.rand < 0.12
      box.merge!(ago:)
    end

    # Two owners who rang and were written down again, each in another way.
    def written_twice
      [[7, 3, {"phone" => "0555 0107"}], [19, 2, {"email" => "#{Names.owners[19].downcase.tr(" ", ".")}@post.example"}]]
        .each do |index, ago, told|
          first, last = Names.owners[index].split(" ", 2)
          make(moment(ago), "contact", "wen", {"title" => "#{last}, #{first}", "stage" => "asking", **told})
        end
    end

    def berth(box, at)
      berth = "#{some(%w[A B C])}#{@chance.rand(1..40)}"
      change(at, "osk", -> { box[:id] }) { {"stage" => "berth_holder", "berth" => berth} }
    end

    def deals(contacts)
      @deals = Names.boats.each_with_index.map { |name, index| deal(name, index, contacts) }
      quiet_hour
    end

    def deal(name, index, contacts)
      box = {}
      ago = if index.zero?
        13
      else
        ((index < 7) ? 9 + index : @chance.rand(2..DAYS))
      end
      owner = index.zero? ? contacts[0] : some(contacts.select { |contact| contact[:ago] > ago })
      seller = index.zero? ? "hollie" : some(SALES)
      length = if index.zero?
        9.1
      else
        ((index == 1) ? 13.4 : @chance.rand(60..185) / 10.0)
      end
      value = index.zero? ? 4350 : (length * @chance.rand(180..1400)).round(-1)
      start = moment(ago)
      @agenda.add(start) do |at|
        values = {
          "title" => name, "value" => value, "boat_length" => length, "boat_owner" => owner[:id], "owner" => seller,
          "deposit" => (value * 0.2).round
        }
        box[:id] = @root.records.make("deal", values, cause: by(seller, at))["id"]
      end
      box[:seller] = seller
      box[:made] = start
      index.zero? ? box : course(box, start, seller)
    end

    # A deal goes on, one stage after another, until it is afloat, lost, or the day of loading has come.
    def course(box, start, seller)
      at = start
      DEAL_WAY.each do |stage|
        at = @calendar.add_working_minutes(at, @chance.rand(300..9_000))
        break if at > @now
        if %w[quoted survey_booked].include?(stage) && @chance.rand < 0.13
          change(at, seller, -> { box[:id] }) { {"stage" => "lost"} }
          break
        end
        next if stage == "survey_booked" && @chance.rand < 0.25

        enter(box, stage, at, seller)
      end
      chat(box, start, seller)
      box
    end

    def enter(box, stage, at, seller)
      change(at, seller, -> { box[:id] }) do |now|
        from = @calendar.zone.date_of(now)
        more =
          case stage
          when "survey_booked"
            {
              "survey_date" => (day(from, 9..24) if @chance.rand < 0.85),
              "survey_type" => (some(%w[pre_purchase insurance insurance damage]) if @chance.rand < 0.85),
              "surveyor" => some(%w[ines ines callum])
            }
          when "accepted"
            {"deposit_in" => @chance.rand < 0.4}
          when "in_the_yard"
            {"launch_date" => (day(from, 25..80) if @chance.rand < 0.7)}
          else
            {}
          end
        {"stage" => stage}.merge(more.compact)
      end
    end

    def chat(box, start, seller)
      @chance.rand(0..3).times do
        at = @calendar.add_working_minutes(start, @chance.rand(60..14_000))
        way = some(Yenvo::Store::Interactions::WAYS)
        text = (@chance.rand < 0.08) ? "#{some(Names::NOTES)} Please !haul her this week." : some(Names::NOTES)
        @agenda.add(at) { |now| @root.interactions.log(box[:id], way, text, cause: by(seller, now)) }
      end
    end

    # One deal goes as the pictures of the guide tell it.
    def quiet_hour
      box = @deals[0]
      # Days that fall on a weekend are moved to the Friday before, where others stand already.
      quoted = [moment(11), box[:made] + 3_600].max
      asked = [moment(8), quoted + 3_600].max
      booked = [moment(6), asked + 3_600].max
      change(quoted, "hollie", -> { box[:id] }) { {"stage" => "quoted"} }
      @agenda.add(asked) do |now|
        @root.interactions.log(
          box[:id], "email", "Aldo asks for the insurance survey before the frost.", cause: by("hollie", now)
        )
      end
      change(booked, "hollie", -> { box[:id] }) do
        {
          "stage" => "survey_booked", "survey_type" => "insurance", "surveyor" => "ines",
          "survey_date" => @calendar.add_working_days(@today, 7).iso8601
        }
      end
    end

    def tickets
      150.times do |index|
        deal = (index == 0) ? @deals[0] : some(@deals)
        at = (index == 0) ? moment(5) : [moment(@chance.rand(1..DAYS)), deal[:made] + 86_400].max
        title = "T-#{1001 + index} #{(index == 0) ? Names::SNAGS[0] : some(Names::SNAGS)}"
        ticket(deal, at, title, (index == 0) ? "serious" : some(%w[minor minor minor serious serious unsafe]))
      end
    end

    # What people outside write back, and one program.
    def answers
      Post::ANSWERS.each_with_index do |words, index|
        @agenda.add(moment([12, 6, 3][index])) { |now| @post.answer(now, words) }
      end
      @agenda.add(moment(4)) { |now| @post.answer(now, "I am away until the end of the month.", away: true) }
    end

    def ticket(deal, at, title, severity)
      box = {}
      who = some(%w[wen tobias callum osk])
      @agenda.add(at) do |now|
        reporter = @root.records.find!(deal[:id])["boat_owner"]
        values = {
          "title" => title, "severity" => severity, "boat" => deal[:id], "reporter" => reporter, "owner" => who,
          "due" => (day(@calendar.zone.date_of(now), 5..25) if @chance.rand < 0.4)
        }.compact
        box[:id] = @root.records.make("ticket", values, cause: by(who, now))["id"]
      end
      TICKET_WAY.each do |status|
        at = @calendar.add_working_minutes(at, @chance.rand(120..3_500))
        break if @chance.rand < 0.06
        next if status == "waiting" && @chance.rand < 0.6

        change(at, who, -> { box[:id] }) { {"stage" => status} }
        if status == "looked_at" && severity == "serious" && @chance.rand < 0.12
          change(at + 900, who, -> { box[:id] }) { {"severity" => "unsafe"} }
        end
      end
    end

    # Tasks that people made for themselves and have not done yet: one late, one for today, one ahead, for each.
    def left_open
      %w[hollie tobias wen maren].each_with_index do |person, index|
        Names::LEFT_OPEN.rotate(index * 3).first(3).zip([-1, 0, 2])
          .each do |title, days|
            due = (days.zero? ? @today : @calendar.add_working_days(@today, days)).iso8601
            @agenda.add(moment(4)) do |now|
              record = @deals[(index * 3) + days + 2][:id]
              @root.tasks.make(
                {
                  "title" => title, "way" => "call", "priority" => (days == -1) ? "high" : "normal", "due_on" => due,
                  "record_id" => record
                }.compact,
                cause: by(person, now)
              )
            end
          end
      end
    end

    # Once a month the front desk starts the rule for quiet deals by hand.
    def quiet_deals
      rule = @root.rules.by_name("Quiet deals, call again")
      6.times do |month|
        @agenda.add(moment(8 + (month * 30))) do |now|
          deals =
            @root.db[:records].where(kind: "deal", stage: %w[enquiry quoted accepted]).order(:id).limit(12)
              .select_map(:id)
          @root.rules.start(rule[:id], deals, cause: by("maren", now)) if deals.any?
        end
      end
    end

    # Boats that stay the winter: the lead uses the kit on them by hand.
    def lay_up
      @deals.sample(8, random: @chance).each_with_index do |deal, index|
        @agenda.add([moment(3 + (index * 4)), deal[:made] + 90_000].max) do |now|
          kit = @root.schema.kits.compiled("winter-lay-up")
          @root.copies.begin(kit, deal[:id], cause: by("tobias", now)) if deal[:id]
        end
      end
    end

    def lists
      Names::GEAR.each { |name| gear(name) }
      60.times { survey_request }
      @deals.sample(36, random: @chance).each { |deal| launch(deal) }
      30.times do
        make(
          moment(@chance.rand(1..DAYS)), "entry/words_about_us", nil,
          {
            "owner" => "hollie", "title" => "From the #{some(%w[harbour\ board sailing\ paper letter\ box])}",
            "stars" => some([1, 2, 3, 4, 4, 5, 5]), "came_from" => some(%w[harbour_board sailing_paper post]),
            "words" => some(Names::WORDS)
          }
        )
      end
    end

    def gear(name)
      box = {}
      make(
        moment(DAYS), "entry/gear_rounds", "tobias",
        {
          "title" => name, "keeper" => some(%w[wen tobias osk]),
          "place" => some(["Slipway", "Fuel berth", "Workshop", "Pontoons"]), "next_check" => day(@today, -5..30)
        }
      ) { |id| box[:id] = id }
      return unless @chance.rand < 0.4

      change(moment(@chance.rand(3..90)), "wen", -> { box[:id] }) { {"stage" => "under_repair"} }
    end

    def survey_request
      deal = some(@deals)
      at = [moment(@chance.rand(1..DAYS)), deal[:made] + 3_600].max
      box = {}
      @agenda.add(at) do |now|
        boat = @root.records.find!(deal[:id])
        message =
          some(
            [
              "Please before the month ends.", "It is urgent, the insurer asks.", "No hurry.",
              "When could somebody come?"
            ]
          )
        values = {
          "title" => "Survey of #{boat["title"]}", "boat" => deal[:id], "asked_by" => boat["boat_owner"],
          "survey_type" => some(%w[pre_purchase insurance damage]), "message" => message
        }
        came = {"door" => "form", "form" => "ask_for_a_survey"}
        box[:id] = @root.records.make("entry/survey_requests", values, cause: by("hollie", now), came:)["id"]
        @root.db[:form_sends].insert(
          form: came["form"], number: 1, once: "story #{box[:id]}", consent: true, record_id: box[:id],
          contact_id: boat["boat_owner"], at: now
        )
      end
      at = @calendar.add_working_minutes(at, @chance.rand(200..2_000))
      change(at, "ines", -> { box[:id] }) { {"stage" => "sorted"} } if @chance.rand < 0.8
      if @chance.rand < 0.6
        change(@calendar.add_working_minutes(at, 900), "ines", -> { box[:id] }) { {"stage" => "booked"} }
      end
    end

    def launch(deal)
      box = {}
      at = [moment(@chance.rand(2..120)), deal[:made] + 7_200].max
      @agenda.add(at) do |now|
        title = @root.records.find!(deal[:id])["title"]
        values = {
          "title" => title, "about" => deal[:id], "launch_date" => day(@calendar.zone.date_of(now), 8..40),
          "tide" => some(%w[morning evening]), "keel_checked" => @chance.rand < 0.5
        }
        box[:id] = @root.records.make("entry/launch_roster", values, cause: by("tobias", now))["id"]
      end
      change(@calendar.add_working_minutes(at, @chance.rand(500..4_000)), "tobias", -> { box[:id] }) do
        {"stage" => "prepared"}
      end
    end
  end
end
