# frozen_string_literal: true

require_relative "story"

module Demo
  # What happens at the yard between the Monday morning at which the kept story ends and the moment of loading: through
  # the same saves, with the rules on, like the story itself.
  class ThisWeek < Story
    # A deal is asked for, and a snag found, about so often on a working day.
    NEW_DEALS = 1
    NEW_SNAGS = 1

    # @param since [Time] when the story ends
    def initialize(root, now:, since:, passing:, seed: 21)
      super(root, now:, passing:, seed:)
      @passed = @since = since
      @last_task = root.db[:tasks].max(:id)
      @last_message = root.db[:proposals].max(:id).to_i
    end

    # @return [Integer] steps that happened
    def live
      @deals = known_deals
      left_open
      open_tasks
      @deals.each { |deal| go_on(deal) }
      working_days.each { |day| new_ones(day) }
      mend_one
      go_through
    end

    private

    def known_deals =
      @root.db[:records].where(kind: "deal").order(:id).select(:id, :owner, :stage).all
        .map { |row| {id: row[:id], seller: row[:owner] || "hollie", stage: row[:stage]} }

    # What was to be done this week is done, more or less.
    def open_tasks
      rows = @root.db[:tasks].where(open: true).where { due_at >= @since }.order(:id).all
      rows.each { |task| plan_answer(task, @since) }
    end

    def go_on(deal)
      next_stage = DEAL_WAY[(DEAL_WAY.index(deal[:stage]) || -1) + 1]
      return if deal[:stage] == "lost" || next_stage.nil? || @chance.rand < 0.8

      at = @calendar.add_working_minutes(@since, @chance.rand(30..2_700))
      enter(deal, next_stage, at, deal[:seller]) if at <= @now
    end

    def working_days
      today = @calendar.zone.date_of(@now)
      (@calendar.zone.date_of(@since)..today).select { |day| @calendar.working_day?(day) }
    end

    def new_ones(day)
      NEW_DEALS.times { new_deal(day) }
      NEW_SNAGS.times do
        title = "T-#{1200 + (day.jd % 100)} #{some(Names::SNAGS)}"
        ticket(some(@deals), at(day), title, some(%w[minor serious]))
      end
      deal = some(@deals)
      text = some(Names::NOTES)
      @agenda.add(at(day)) { |now| @root.interactions.log(deal[:id], "call", text, cause: by(deal[:seller], now)) }
    end

    # The owner of another boat, so that her owner is known.
    def new_deal(day)
      contact = {id: @root.db[:records].where(kind: "contact").order(:id).select_map(:id).sample(random: @chance)}
      seller = some(SALES)
      length = @chance.rand(60..185) / 10.0
      value = (length * @chance.rand(180..1400)).round(-1)
      name = Names.more_boats[day.jd % Names.more_boats.size]
      make(
        at(day), "deal", seller,
        {
          "title" => name, "value" => value, "boat_length" => length, "boat_owner" => contact[:id], "owner" => seller,
          "deposit" => (value * 0.2).round
        }
      )
    end

    # Somebody hears of it tomorrow, so that there is something to leave.
    def mend_one
      found = @root.db[:records].where(kind: "ticket", stage: "in_hand").reverse(:id).select_map(:id)
      id = found.find { |one| @root.records.find!(one)["severity"] != "minor" } or return
      change(@now - 90, "wen", -> { id }) { {"stage" => "fixed"} }
    end

    def at(day) = @calendar.zone.at(day, @chance.rand(490..1_020))

    # No earlier than the story ends.
    def moment(days_ago) = [super, @since].max
  end
end
